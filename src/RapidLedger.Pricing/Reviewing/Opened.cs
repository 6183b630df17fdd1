namespace RapidLedger.Pricing;

/// <summary>Promotions looked at for what they give, not to whom and when.</summary>
public static class Opened
{
    // Whether a condition says who buys, where to, how, or in what, and not what the cart holds.
    private static readonly ConditionKinds<Func<Condition, bool>> SaysWhom = new()
    {
        All = condition => condition is AllOf(var parts) && AreAboutWhom(parts),
        Any = condition => condition is AnyOf(var parts) && AreAboutWhom(parts),
        None = condition => condition is NoneOf(var parts) && AreAboutWhom(parts),
        Spend = _ => false,
        Quantity = _ => false,
        Distinct = _ => false,
        Only = _ => false,
        Weight = _ => false,
        Shopper = _ => true,
        Destination = _ => true,
        Channel = _ => true,
        Currency = _ => true,
        Method = _ => true,
    };

    /// <summary>The same as if it were live and started, within its window, with uses left, and for whoever buys.</summary>
    public static Promotion AsIfOpen(this Promotion promotion) =>
        promotion with
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

    private static bool AreAboutWhom(EquatableArray<Condition> parts) => parts.Count > 0 && parts.All(IsAboutWhom);

    private static bool IsAboutWhom(Condition condition) => condition.In(SaysWhom)(condition);
}
