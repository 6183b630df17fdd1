namespace RapidLedger.Pricing;

/// <summary>Says what is marked down.</summary>
internal static class MarkdownWords
{
    public static string Say(Markdown markdown, Wording wording) =>
        $"lower prices: {Wording.Join(markdown.Levels.Select(level => $"{wording.Say(level.On, "every item")} {RewardWords.At(level.Take, wording)}"), "and")}";
}
