namespace RapidLedger.Pricing;

/// <summary>Delivery that is given to carts which do not earn what it costs: from which amount on they do.</summary>
internal sealed class DeliveryLoses : Check
{
    public override string Name => "deliveryLoses";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        foreach (var (at, reward) in promotion.Rewards())
        {
            if (reward is not Shipping shipping)
                continue;
            var loss = around
                .Meet(promotion)
                .Trials.Where(trial =>
                    trial.With is { Totals: { Contribution: < 0, Margin: >= 0, ShippingDiscount: > 0 } }
                    && trial.Without.Totals.Contribution >= 0
                )
                .MinBy(trial => trial.With.Totals.Contribution);
            if (loss is null)
                continue;
            var totals = loss.With.Totals;
            yield return Doubt(
                $"{at}/take",
                $"With its delivery a small order loses: {WitnessWords.Goods(loss.Cart, around.Wording)}{WitnessWords.ForWhom(loss.Cart, around.Wording)} for {around.Wording.Say(totals.Net)} earn {around.Wording.Say(totals.Margin!.Value)}, and {around.Wording.Say(-totals.Contribution!.Value)} is missing to pay for the delivery.",
                From(promotion, shipping, around)
            );
        }
    }

    // Whatever is in a cart earns at least as the item that earns least: from this amount on it pays for the dearest delivery.
    private static Mend? From(Promotion promotion, Shipping shipping, Surroundings around)
    {
        var (currency, prices) = (around.Store.Currency, around.Prices);
        var cost = around
            .Store.Shipping.Where(method => shipping.Methods is not { } only || only.Contains(method.Id))
            .Select(method => method.Cost?.For(currency, around.Store))
            .Max();
        var least = Enumerable
            .Range(0, around.Catalogue.Count)
            .Where(variant => prices.Current(variant) > 0)
            .Select(variant =>
                around.Catalogue.MarginShare(variant, prices.Current(variant), currency)
                * around.Catalogue.WithoutTax(variant, prices.Current(variant))
                / prices.Current(variant)
            )
            .Where(share => share > 0)
            .Min();
        if (cost is not { } dearest || least is not { } earned)
            return null;
        var from = decimal.ToInt64(decimal.Ceiling(dearest / earned / currency.MinorPerMajor)) * currency.MinorPerMajor;
        var words = $"from {around.Wording.Say(from)}, where what earns least pays for its delivery";
        return promotion.When switch
        {
            null => new(
                words,
                "/when",
                new Dictionary<string, object> { ["spend"] = new Dictionary<string, object> { ["from"] = currency.Write(from) } }
            ),
            Spend { Of: null, From.Named: [var written] } when written.Currency == currency => new(
                words,
                "/when/spend/from",
                currency.Write(from)
            ),
            _ => null,
        };
    }
}
