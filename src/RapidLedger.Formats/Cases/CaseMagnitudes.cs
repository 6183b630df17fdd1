using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>Sums of a case that pass what can be counted, told where they come from.</summary>
internal static class CaseMagnitudes
{
    /// <summary>Told at the amount, the weight or the reward with which a sum of the cart passes what can be counted.</summary>
    public static void Refuse(Node root, CatalogueIndex index, Cart cart, List<Promotion> promotions)
    {
        Promotion[] live = [.. promotions.Where(promotion => promotion.State == State.Live)];
        if (Magnitudes.FirstIn(index, cart, live) is not { } passed)
            return;
        if (passed.Line >= 0)
        {
            var sku = cart.Lines[passed.Line].Sku;
            var product = index
                .Catalogue.Products.Select((product, place) => (product, place))
                .First(entry => entry.product.Variants.Any(variant => variant.Sku == sku));
            var variant = product
                .product.Variants.Select((variant, place) => (variant, place))
                .First(entry => entry.variant.Sku == sku)
                .place;
            var at = root.Member("catalogue")
                .Member("products")
                .Items()
                .ElementAt(product.place)
                .Member("variants")
                .Items()
                .ElementAt(variant);
            var member = passed.What switch
            {
                Magnitude.Regular => "regular",
                Magnitude.Cost => "cost",
                _ => "grams",
            };
            at.Member(member)
                .Fault(
                    ProblemCode.OutOfRange,
                    $"With the cart's units of '{sku}' this comes to more than can be counted. Lower it, or the quantity."
                );
            return;
        }

        if (passed.What == Magnitude.Delivery)
        {
            root.Member("cart")
                .Member("method")
                .Fault(ProblemCode.OutOfRange, "The charge or the cost of this delivery is more than can be counted.");
            return;
        }

        var reward = root.Member("promotions")
            .Items()
            .ElementAt(promotions.IndexOf(live[passed.Promotion]))
            .Member("rewards")
            .Items()
            .ElementAt(passed.Reward);
        string[] makes = ["quantity", "points", "fixed"];
        var what = makes.FirstOrDefault(name => reward.Value.TryGetProperty(name, out _));
        (what is null ? reward : reward.Member(what)).Fault(
            ProblemCode.OutOfRange,
            "What this gives could come to more in this cart than can be counted. Lower it."
        );
    }
}
