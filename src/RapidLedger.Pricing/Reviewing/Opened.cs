namespace RapidLedger.Pricing;

/// <summary>Promotions looked at for what they give, not to whom and when.</summary>
public static class Opened
{
    /// <summary>The same as if it were live and started, within its window, with uses left, and for whoever buys.</summary>
    public static Promotion AsIfOpen(this Promotion promotion) => promotion with
    {
        State = State.Live,
        Trigger = Trigger.Automatic,
        Window = null,
        Limits = null,
        When = promotion.When switch
        {
            AllOf(var parts) => new AllOf([.. parts.Where(part => !IsAboutWhom(part))]),
            { } whom when IsAboutWhom(whom) => null,
            _ => promotion.When,
        },
    };

    private static bool IsAboutWhom(Condition condition) => condition is Buyer or Destination or Channel or PaidIn or Method;
}
