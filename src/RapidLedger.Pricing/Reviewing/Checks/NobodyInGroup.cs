namespace RapidLedger.Pricing;

/// <summary>A group that no shopper is in: who has to be in it gets nothing.</summary>
internal sealed class NobodyInGroup : Check
{
    public override string Name => "nobodyInGroup";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        (string At, string[] Groups)[] named =
        [
            .. promotion
                .Conditions()
                .Where(entry => entry.Condition is Buyer.InGroup)
                .Select(entry => (entry.At, ((Buyer.InGroup)entry.Condition).Groups.ToArray())),
        ];
        if (named.Length == 0 || around.GroupsInUse?.Invoke() is not { } used)
            yield break;
        foreach (var (at, groups) in named)
        foreach (var group in groups.Where(group => !used.Contains(group)))
            yield return Doubt(
                $"{at}/shopper/groups",
                $"No shopper is in {group} at the moment{(used.Count == 0 ? "" : $"; there are shoppers in {Wording.Join(used.Order(StringComparer.Ordinal), "and")}")}."
            );
    }
}
