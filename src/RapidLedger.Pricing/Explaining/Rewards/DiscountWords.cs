namespace RapidLedger.Pricing;

/// <summary>Says what a discount gives.</summary>
internal static class DiscountWords
{
    public static string Say(Discount discount, Wording wording)
    {
        var all = discount.On.In.Any(term => term is Term.All);
        var words =
            discount.Per == Per.Cart
                ? $"{RewardWords.Off(discount.Take, wording)} {Together(discount.On, all, wording)}{(discount.Take is Take.Percentage ? "" : ", once")}"
                : $"{RewardWords.Off(discount.Take, wording)} {Units(discount, all, wording)}";
        return discount.MaxDiscount is { } most ? $"{words}, at most {wording.Say(most)}" : words;
    }

    private static string Together(Selection on, bool all, Wording wording)
    {
        if (on.IsEverything)
            return "the order";
        return all ? wording.Say(on, "all items") : $"{wording.Say(on)} together";
    }

    private static string Units(Discount discount, bool all, Wording wording)
    {
        if (discount.MaxUnits is not { } units)
            return all ? wording.Say(discount.On, "every item") : $"each of {wording.Say(discount.On)}";
        var which = (discount.Pick ?? Pick.Cheapest) == Pick.Cheapest ? "cheapest" : "dearest";
        return $"the {which}{(units == 1 ? "" : $" {units}")} {(all ? wording.Say(discount.On, "in the cart") : $"of {wording.Say(discount.On)}")}";
    }
}
