namespace RapidLedger.Pricing;

/// <summary>A condition without parts that must hold, or must not.</summary>
/// <param name="Condition">No bracket.</param>
/// <param name="Holds">Whether it must hold.</param>
internal sealed record Demand(Condition Condition, bool Holds)
{
    /// <summary>What it asks of a cart, after "that": <c>it is bought by guests</c>.</summary>
    public string Say(Wording wording) =>
        Holds ? Condition.Speak(wording).Statement : $"it is not so that {Condition.Speak(wording).Statement}";
}
