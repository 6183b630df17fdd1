namespace RapidLedger.Pricing;

/// <summary>The sum of the prices of the selected units is within bounds, both included.</summary>
/// <param name="Of">Which units; none: the whole cart.</param>
/// <param name="From">The least sum.</param>
/// <param name="To">The greatest sum.</param>
/// <param name="Basis">Which prices: current ones, or what other promotions have left of them.</param>
public sealed record Spend(Selection? Of, Amount? From, Amount? To, Basis Basis = Basis.Before) : Condition
{
    /// <inheritdoc/>
    public override T In<T>(ConditionKinds<T> kinds) => kinds.Spend;

    internal override ConditionSpeech Speak(Wording wording) => ConditionWords.Speak(this, wording);

    // On running prices it is tested while promotions are chosen; before that it rules nothing out.
    internal override Test Compile(Compiler compiler) =>
        Basis == Basis.After
            ? new AllOf([]).Compile(compiler)
            : new Ready(this, compiler.Selection(Of), compiler.Amounts(From), compiler.Amounts(To));

    private sealed class Ready(Spend written, SelectionTest of, AmountTable? from, AmountTable? to) : Test
    {
        public override IEnumerable<int>? Touches => from is { IsAboveZero: true } ? of.InTerms.ToArray() : null;

        public override IEnumerable<string>? Countries => null;

        public override bool Holds(CartView cart)
        {
            var spent = of.Spend(cart);
            return (from is null || spent >= from[cart]) && (to is null || spent <= to[cart]);
        }

        public override IEnumerable<Gap> Gaps(CartView cart)
        {
            var spent = of.Spend(cart);
            if (from is not null && spent < from[cart])
                yield return new Gap.SpendShort(written.Of, spent, from[cart]);
            if (to is not null && spent > to[cart])
                yield return new Gap.SpendOver(written.Of, spent, to[cart]);
        }
    }
}

/// <summary>Which prices a <see cref="Spend"/> adds up.</summary>
public enum Basis
{
    /// <summary>Current prices: the cart as the shopper filled it.</summary>
    Before,

    /// <summary>Running prices when the promotion's first pass begins.</summary>
    After,
}

/// <summary>A <see cref="Spend"/> on running prices made ready.</summary>
internal sealed class AfterSpend(Spend written, Compiler compiler)
{
    private readonly SelectionTest of = compiler.Selection(written.Of);
    private readonly AmountTable? from = compiler.Amounts(written.From);
    private readonly AmountTable? to = compiler.Amounts(written.To);

    /// <summary>Whether it holds for the runs as they were when the pass began.</summary>
    public bool Holds(Sheet sheet, ReadOnlySpan<Run> runs)
    {
        var spent = Spent(sheet, runs);
        return (from is null || spent >= from[sheet.Cart]) && (to is null || spent <= to[sheet.Cart]);
    }

    /// <summary>What is missing, or too much.</summary>
    public Gap? Gap(Sheet sheet, ReadOnlySpan<Run> runs)
    {
        var spent = Spent(sheet, runs);
        if (from is not null && spent < from[sheet.Cart])
            return new Gap.SpendShort(written.Of, spent, from[sheet.Cart], true);
        return to is not null && spent > to[sheet.Cart] ? new Gap.SpendOver(written.Of, spent, to[sheet.Cart], true) : null;
    }

    private long Spent(Sheet sheet, ReadOnlySpan<Run> runs)
    {
        sheet.Work.Count(runs.Length / 2);
        var selected = sheet.Selected(of);
        long spent = 0;
        foreach (var run in runs)
            if (selected[run.Line])
                spent += run.Price * run.Count;
        return spent;
    }
}
