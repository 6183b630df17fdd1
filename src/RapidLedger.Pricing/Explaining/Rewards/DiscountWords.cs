namespace RapidLedger.Pricing;

/// <summary>Says what a discount gives.</summary>
internal static class DiscountWords
{
    public static string Say(Discount discount, Wording wording)
    {
        var items = discount.On.IsEverything ? null : wording.Say(discount.On);
        var words = discount.Per == Per.Cart
            ? $"{Off(discount.Take, wording)} {(items is null ? "the order" : $"{items} together")}{(discount.Take is Take.Percentage ? "" : ", once")}"
            : $"{Off(discount.Take, wording)} {Units(discount, items)}";
        return discount.MaxDiscount is { } most ? $"{words}, at most {wording.Say(most)}" : words;
    }

    private static string Units(Discount discount, string? items)
    {
        if (discount.MaxUnits is not { } units) return items is null ? "every item" : $"each of {items}";
        var which = (discount.Pick ?? Pick.Cheapest) == Pick.Cheapest ? "cheapest" : "dearest";
        return $"the {which}{(units == 1 ? "" : $" {units}")}{(items is null ? " in the cart" : $" of {items}")}";
    }

    private static string Off(Take take, Wording wording) => take switch
    {
        Take.Percentage(var percent) => percent == Percent.Whole ? "everything off" : $"{wording.Say(percent)} off",
        Take.Off(var amount) => $"{wording.Say(amount)} off",
        Take.To(var price) => $"a price of {wording.Say(price)} for",
        _ => throw new System.Diagnostics.UnreachableException(),
    };
}
