namespace RapidLedger.Pricing;

/// <summary>A gift of which there may not be enough.</summary>
internal sealed class GiftStock : Check
{
    public override string Name => "giftStock";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        foreach (var (at, reward) in promotion.Rewards())
        {
            if (reward is not Gift { Give: Give.OneOf(var skus) } gift) continue;
            long stock = 0;
            var isEndless = false;
            foreach (var sku in skus)
            {
                if (around.Catalogue.Variant(around.Catalogue.Find(sku)).Stock is { } left) stock += left;
                else isEndless = true;
            }

            if (isEndless) continue;
            var name = skus.Count == 1 ? around.Wording.Item(skus[0]) : $"these {skus.Count} gifts";
            if (promotion.Limits?.Total is { } total)
            {
                if (stock < total * gift.Quantity) yield return Doubt($"{at}/give", $"It promises {total * gift.Quantity} of {name}, and {stock} are in stock.", new($"{stock / gift.Quantity} uses in all", "/limits/total", stock / gift.Quantity));
            }
            else yield return Remark($"{at}/give", $"{stock} of {name} are in stock, and nothing bounds how many are given.", new($"{stock / gift.Quantity} uses in all", "/limits/total", stock / gift.Quantity));
        }
    }
}
