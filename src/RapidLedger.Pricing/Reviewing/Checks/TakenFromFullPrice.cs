namespace RapidLedger.Pricing;

/// <summary>A markdown of items that another promotion counts only at full price.</summary>
internal sealed class TakenFromFullPrice : Check
{
    private const int MostItems = 12;

    public override string Name => "takenFromFullPrice";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        if (promotion.Rewards is not [Markdown markdown])
            yield break;
        for (var place = 0; place < markdown.Levels.Count; place++)
        {
            int[] marked = [.. around.Catalogue.Select(markdown.Levels[place].On)];
            var items = marked.ToHashSet();
            foreach (var other in around.About(promotion, around.Items(markdown.Levels[place].On, MostItems)))
            {
                var lost = other
                    .Selections()
                    .Where(selection => selection.FullPriceOnly)
                    .SelectMany(around.Catalogue.Select)
                    .Distinct()
                    .Count(items.Contains);
                if (lost > 0)
                    yield return Doubt(
                        $"/rewards/0/levels/{place}",
                        $"“{other.Named}” counts only goods at full price: it loses {Wording.Counted(lost, "item")} of {marked.Length}."
                    ) with
                    {
                        Other = other.Id,
                    };
            }
        }
    }
}
