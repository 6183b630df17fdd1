namespace RapidLedger.Pricing;

/// <summary>Says what a credit pays.</summary>
internal static class CreditWords
{
    public static string Say(Credit credit, Wording wording) =>
        $"pays {wording.Say(credit.Amount)}{(credit.KeepRest ? ", what is left stays" : ", what is left lapses")}";
}
