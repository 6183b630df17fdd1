namespace RapidLedger.Pricing;

/// <summary>
/// What a cart costs with more and more of one item in it, with a promotion and without it, and where that is odd: where one more makes the
/// order cheaper, costs nothing, or is sold below cost.
/// </summary>
/// <param name="Sku">The item.</param>
/// <param name="Points">From one unit on, each one more.</param>
/// <param name="Marks">What is worth knowing, in the order of the places.</param>
/// <param name="IsWhole">Whether it goes as far as was asked; carts that are hard to price end it earlier.</param>
public sealed record PriceCurve(string Sku, IReadOnlyList<CurvePoint> Points, IReadOnlyList<CurveMark> Marks, bool IsWhole)
{
    /// <summary>The most units that a curve goes to.</summary>
    public const int Most = 200;

    // So that a curve over hard carts ends: forty carts of the hardest kind.
    private const long MostWork = 40L * WorkBudget.OfOneEffort;

    /// <summary>Prices the carts of a curve.</summary>
    /// <param name="with">The promotions that are live, and the one that is looked at.</param>
    /// <param name="without">The same without it.</param>
    /// <param name="cart">What else is bought, by whom and when; what it holds of the item does not count.</param>
    /// <param name="sku">An item of the catalogue.</param>
    /// <param name="most">How far to go: 1 to <see cref="Most"/> units.</param>
    /// <param name="wording">How marks are said; in the cart's currency.</param>
    /// <param name="usage">What has been used so far.</param>
    /// <param name="gone">Says that nobody waits any more.</param>
    public static PriceCurve Of(
        Rulebook with,
        Rulebook without,
        Cart cart,
        string sku,
        int most,
        Wording wording,
        IReadOnlyDictionary<string, Usage>? usage = null,
        CancellationToken gone = default
    )
    {
        var place = cart.Lines.TakeWhile(line => line.Sku != sku).Count();
        Line[] others = [.. cart.Lines.Where(line => line.Sku != sku)];
        var points = new List<CurvePoint>(most);
        var work = 0L;
        for (var units = 1; units <= most && work <= MostWork; units++)
        {
            var filled = cart with { Lines = [.. others[..place], new Line(sku, units), .. others[place..]] };
            var (before, after) = (without.Price(filled, usage, gone: gone), with.Price(filled, usage, gone: gone));
            work += before.Work + after.Work;
            points.Add(new(units, after.Totals.Goods, before.Totals.Total, after.Totals.Total, after.Totals.Margin));
        }

        return new(sku, points, [.. CurveMark.In(points, wording)], points.Count == most);
    }
}

/// <summary>One place of a curve. Amounts in minor units of the cart's currency.</summary>
/// <param name="Units">Of the item.</param>
/// <param name="Spend">The goods of the whole cart at current prices.</param>
/// <param name="Before">The total without the promotion.</param>
/// <param name="After">The total with it.</param>
/// <param name="Margin">What is earned with it; null: not known.</param>
public sealed record CurvePoint(int Units, long Spend, long Before, long After, long? Margin);

/// <summary>What a mark of a curve tells of.</summary>
public enum CurveMarkKind
{
    /// <summary>From here on the promotion takes something off.</summary>
    Begins,

    /// <summary>One more costs less than half of what it costs without the promotion.</summary>
    Step,

    /// <summary>One more costs nothing.</summary>
    Flat,

    /// <summary>With one more the whole order is cheaper.</summary>
    Cliff,

    /// <summary>The order earns less than nothing.</summary>
    BelowCost,
}

/// <summary>Something worth knowing about a curve.</summary>
/// <param name="Kind">What it tells of.</param>
/// <param name="Places">At how many units, ascending; of what is below cost, every one.</param>
/// <param name="Sentence">In words, with its figures.</param>
public sealed record CurveMark(CurveMarkKind Kind, IReadOnlyList<int> Places, string Sentence)
{
    private const int PlacesNamed = 4;

    internal static IEnumerable<CurveMark> In(IReadOnlyList<CurvePoint> points, Wording wording)
    {
        if (points.FirstOrDefault(point => point.After < point.Before) is { } first)
            yield return new(
                CurveMarkKind.Begins,
                [first.Units],
                $"It begins at {first.Units}: {wording.Say(first.After)} instead of {wording.Say(first.Before)}."
            );
        var rises = points
            .Zip(points.Skip(1), (one, next) => (One: one, Next: next, Rise: next.After - one.After, Full: next.Before - one.Before))
            .ToArray();

        var cliffs = rises.Where(rise => rise.Rise < 0 && rise.Full >= 0).ToArray();
        if (cliffs.Length > 0)
        {
            var worst = cliffs.MinBy(rise => rise.Rise);
            yield return new(
                CurveMarkKind.Cliff,
                [.. cliffs.Select(rise => rise.Next.Units)],
                $"{worst.Next.Units} cost {wording.Say(worst.Next.After)}, {worst.One.Units} cost {wording.Say(worst.One.After)}: with one more the order is {wording.Say(-worst.Rise)} cheaper{Elsewhere(cliffs.Length)}."
            );
        }

        var flats = rises.Where(rise => rise.Rise == 0 && rise.Full > 0).Select(rise => rise.Next.Units).ToArray();
        if (flats.Length > 0)
            yield return new(CurveMarkKind.Flat, flats, $"One more costs nothing at {Named(flats)}.");

        var steps = rises.Where(rise => rise.Rise > 0 && rise.Rise * 2 < rise.Full).ToArray();
        if (steps.Length > 0)
            yield return new(
                CurveMarkKind.Step,
                [.. steps.Select(rise => rise.Next.Units)],
                $"One more costs only {wording.Say(steps[0].Rise)} instead of {wording.Say(steps[0].Full)} at {steps[0].Next.Units}{(steps.Length == 1 ? "" : $", and little at {Named([.. steps.Skip(1).Select(rise => rise.Next.Units)])}")}."
            );

        var below = points.Where(point => point.Margin < 0).ToArray();
        if (below.Length > 0)
        {
            var worst = below.MinBy(point => point.Margin)!;
            yield return new(
                CurveMarkKind.BelowCost,
                [.. below.Select(point => point.Units)],
                $"The order is sold below cost at {Stretches(below)}: {wording.Say(worst.Margin!.Value)} at {worst.Units}."
            );
        }
    }

    private static string Elsewhere(int all) =>
        all == 1 ? ""
        : all == 2 ? "; so at one other place"
        : $"; so at {all - 1} other places";

    private static string Named(int[] places) =>
        places.Length <= PlacesNamed
            ? Wording.Join(places.Select(place => $"{place}"), "and")
            : $"{string.Join(", ", places[..PlacesNamed])} and {Wording.Counted(places.Length - PlacesNamed, "more place")}";

    private static string Stretches(CurvePoint[] below)
    {
        var stretches = new List<(int From, int To)>();
        foreach (var units in below.Select(point => point.Units))
            if (stretches.Count > 0 && stretches[^1].To == units - 1)
                stretches[^1] = (stretches[^1].From, units);
            else
                stretches.Add((units, units));
        string[] words =
        [
            .. stretches
                .Take(PlacesNamed)
                .Select(stretch => stretch.From == stretch.To ? $"{stretch.From}" : $"{stretch.From} to {stretch.To}"),
        ];
        return stretches.Count <= PlacesNamed ? Wording.Join(words, "and") : $"{string.Join(", ", words)} and further on";
    }
}
