namespace RapidLedger.Pricing;

/// <summary>Says what a credit pays.</summary>
internal static class CreditWords
{
    public static string Say(Credit credit, Wording wording) =>
        $"{wording.Say(credit.Amount)} of credit; what is left {(credit.KeepRest ? "stays" : "lapses")}";
}
