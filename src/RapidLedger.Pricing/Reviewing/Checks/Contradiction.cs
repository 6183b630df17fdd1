namespace RapidLedger.Pricing;

/// <summary>Bounds that must hold together and exclude each other.</summary>
internal sealed class Contradiction : StoppingCheck
{
    public override string Name => "contradiction";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        // What must hold together: the condition by itself, or the parts of a bracket of all.
        var together = promotion
            .Conditions()
            .Where(entry => entry.Condition is AllOf)
            .Select(entry =>
                ((AllOf)entry.Condition).Parts.Select((part, place) => (At: $"{entry.At}/all/{place}", Condition: part)).ToArray()
            )
            .Append([.. promotion.Conditions().Take(1)]);
        foreach (var parts in together)
        {
            foreach (
                var same in parts
                    .Select(part => (part.At, Bound: Bound.Of(part.Condition, around)))
                    .Where(one => one.Bound is not null)
                    .GroupBy(one => one.Bound!.Key)
            )
            {
                var (least, most) = (same.Max(one => one.Bound!.Least), same.Min(one => one.Bound!.Most));
                if (least > most)
                    yield return Error(
                        same.Last().At,
                        $"This can never hold: {same.Last(one => one.Bound!.Least == least).Bound!.Say(least)} and {same.Last(one => one.Bound!.Most == most).Bound!.SayMost(most)} exclude each other."
                    );
            }
        }
    }

    // From and to which number something must be, both included.
    private sealed record Bound((string What, Selection? Of) Key, long Least, long Most, Func<long, string> Number)
    {
        public static Bound? Of(Condition condition, Surroundings around) =>
            condition switch
            {
                Spend(var of, var from, var to, var basis) => new(
                    ($"spend {basis}", of),
                    Minor(from, around) ?? 0,
                    Minor(to, around) ?? long.MaxValue,
                    around.Wording.Say
                ),
                Quantity(var of, var comparison, var number) => Counted("quantity", of, comparison, number),
                Distinct(var of, var comparison, var number) => Counted("distinct", of, comparison, number),
                Weight(var comparison, var grams) => Counted("weight", null, comparison, grams),
                _ => null,
            };

        public string Say(long least) => $"at least {Number(least)}";

        public string SayMost(long most) => most < 0 ? "fewer than none" : $"at most {Number(most)}";

        private static Bound? Counted(string what, Selection? of, Comparison comparison, long number) =>
            comparison switch
            {
                Comparison.AtLeast => new((what, of), number, long.MaxValue, Wording.Number),
                Comparison.MoreThan => new((what, of), number + 1, long.MaxValue, Wording.Number),
                Comparison.Exactly => new((what, of), number, number, Wording.Number),
                Comparison.LessThan => new((what, of), 0, number - 1, Wording.Number),
                Comparison.AtMost => new((what, of), 0, number, Wording.Number),
                _ => null,
            };

        private static long? Minor(Amount? amount, Surroundings around) => amount?.For(around.Store.Currency, around.Store);
    }
}
