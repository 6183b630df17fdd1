namespace RapidLedger.Pricing;

/// <summary>Words that the kinds of reward share; each kind has a file of its own in this folder.</summary>
internal static class RewardWords
{
    /// <summary>How a price comes down: <c>20 % off</c>, <c>free</c>, <c>a price of €5.00 for</c>.</summary>
    public static string Off(Take take, Wording wording) =>
        take switch
        {
            Take.Percentage(var percent) => percent == Percent.Whole ? "everything off" : $"{wording.Say(percent)} off",
            Take.Off(var amount) => $"{wording.Say(amount)} off",
            Take.To(var price) => $"a price of {wording.Say(price)} for",
            _ => throw new System.Diagnostics.UnreachableException(),
        };

    /// <summary>The same after what it is said of: <c>free</c>, <c>at 20 % off</c>, <c>for €5.00</c>.</summary>
    public static string At(Take take, Wording wording) =>
        take switch
        {
            Take.Percentage(var percent) => percent == Percent.Whole ? "free" : $"at {wording.Say(percent)} off",
            Take.Off(var amount) => $"at {wording.Say(amount)} off",
            Take.To(var price) => $"for {wording.Say(price)}",
            _ => throw new System.Diagnostics.UnreachableException(),
        };

    /// <summary>How often: <c>once</c>, <c>every time it fits</c>, <c>at most 3 times</c>.</summary>
    public static string Say(Repetition repeat) =>
        repeat.Most switch
        {
            null => "every time it fits",
            1 => "once",
            { } most => $"at most {most} times",
        };
}
