namespace RapidLedger.Pricing;

/// <summary>A gift of which there may not be enough.</summary>
internal sealed class GiftStock : Check
{
    public override string Name => "giftStock";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        foreach (var (at, reward) in promotion.Rewards())
        {
            if (reward is not Gift { Give: Give.OneOf(var skus) } gift)
                continue;
            long stock = 0;
            var isEndless = false;
            foreach (var sku in skus)
            {
                if (around.Catalogue.Variant(around.Catalogue.Find(sku)).Free(around.Left) is { } left)
                    stock += left;
                else
                    isEndless = true;
            }

            if (isEndless)
                continue;
            var name = skus.Count == 1 ? around.Wording.Item(skus[0]) : $"these {skus.Count} gifts";
            var most = around.Uses + (stock / gift.Quantity);
            var mend = most == 0 ? null : new Mend($"{most} uses in all", "/limits/total", most);
            if (promotion.Limits?.Total is not { } total)
            {
                yield return Remark($"{at}/give", $"{stock} of {name} are in stock, and nothing bounds how many are given.", mend);
                continue;
            }

            var promised = Math.Max(0, total - around.Uses) * gift.Quantity;
            if (stock < promised)
                yield return Doubt(
                    $"{at}/give",
                    $"It {(around.Uses > 0 ? "still promises" : "promises")} {promised} of {name}, and {stock} are in stock.",
                    mend
                );
        }
    }
}
