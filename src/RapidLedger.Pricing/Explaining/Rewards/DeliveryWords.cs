namespace RapidLedger.Pricing;

/// <summary>Says what is taken off delivery.</summary>
internal static class DeliveryWords
{
    public static string Say(Shipping shipping, Wording wording)
    {
        var how = shipping.Methods is { } methods
            ? $" by {Wording.Join(methods.Select(id => wording.Catalogue.Store.Shipping.FirstOrDefault(method => method.Id == id)?.Name ?? id), "or")}"
            : "";
        var words = shipping.Take is Take.Percentage(var percent) && percent == Percent.Whole ? $"free delivery{how}" : $"{RewardWords.Off(shipping.Take, wording)} delivery{how}";
        return shipping.MaxDiscount is { } most ? $"{words}, at most {wording.Say(most)}" : words;
    }
}
