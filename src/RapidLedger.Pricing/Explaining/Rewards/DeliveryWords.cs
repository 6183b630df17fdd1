namespace RapidLedger.Pricing;

/// <summary>Says what is taken off delivery.</summary>
internal static class DeliveryWords
{
    public static string Say(Shipping shipping, Wording wording)
    {
        var how = shipping.Methods is { } methods ? $" by {wording.Methods(methods)}" : "";
        var words =
            shipping.Take is Take.Percentage(var percent) && percent == Percent.Whole
                ? $"free delivery{how}"
                : $"{RewardWords.Off(shipping.Take, wording)} delivery{how}";
        return shipping.MaxDiscount is { } most ? $"{words}, at most {wording.Say(most)}" : words;
    }
}
