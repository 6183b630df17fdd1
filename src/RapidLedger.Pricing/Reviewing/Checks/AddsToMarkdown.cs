namespace RapidLedger.Pricing;

/// <summary>A code whose reduction is added to that of a markdown: what both take from one item.</summary>
internal sealed class AddsToMarkdown : Check
{
    // From so many percent on, together, it is a doubt.
    private const int Much = 40;
    private const int Most = 3;

    public override string Name => "addsToMarkdown";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        var isMarkdown = IsMarkdown(promotion);
        if (!isMarkdown && !promotion.IsByCode)
            return [];
        var met = around.Meet(promotion);
        return Shared
            .With(promotion, met, isMarkdown ? other => other.IsByCode : IsMarkdown)
            .Take(Most)
            .Select(one => Say(promotion, isMarkdown, one.Smallest(promotion, met), around.Wording));
    }

    private Finding Say(Promotion promotion, bool isMarkdown, Shared one, Wording wording)
    {
        var who = isMarkdown ? $"The code of “{one.Other.Named}” can be added to it" : $"Its code can be added to “{one.Other.Named}”";
        var (sentence, mend) = ($"{who}: {one.Say(wording)}.", isMarkdown ? null : AtFullPrice(promotion));
        var at = isMarkdown ? "/rewards/0" : "/rewards";
        return (one.Percent >= Much ? Doubt(at, sentence, mend) : Remark(at, sentence, mend)) with { Other = one.Other.Id };
    }

    private static bool IsMarkdown(Promotion promotion) => promotion.Rewards is [Markdown];

    private static Mend? AtFullPrice(Promotion promotion) =>
        promotion.Rewards is [Discount { On.FullPriceOnly: false }]
            ? new("only goods at full price", "/rewards/0/on/fullPriceOnly", true)
            : null;
}
