using System.Runtime.InteropServices;

namespace RapidLedger.Pricing;

/// <summary>What a promotion is about to take from units of a sheet: put together run by run in any order, then done at once.</summary>
internal sealed class Lowering(Sheet sheet)
{
    private readonly List<Piece> pieces = [];
    private readonly List<SpreadRun> weights = [];
    private readonly List<SpreadShare> shares = [];
    private bool isSorted = true;

    /// <summary>Begins anew.</summary>
    public void Clear()
    {
        pieces.Clear();
        weights.Clear();
        shares.Clear();
        isSorted = true;
    }

    /// <summary>Adds the next units of a run, and what is taken from each, or what each weighs if an amount is spread.</summary>
    public void Add(RunPart part, long each)
    {
        if (pieces.Count > 0 && pieces[^1].Run > part.Run)
            isSorted = false;
        pieces.Add(new(part.Run, pieces.Count, part.Count, each));
    }

    /// <summary>Takes from each unit what was said.</summary>
    public void Done()
    {
        Sort();
        for (var i = 0; i < pieces.Count; i++)
            shares.Add(new(i, pieces[i].Count, pieces[i].Each));
        sheet.Lower(CollectionsMarshal.AsSpan(pieces), CollectionsMarshal.AsSpan(shares));
    }

    /// <summary>Takes an amount in all, spread in proportion to what was said.</summary>
    public void Spread(long amount)
    {
        Sort();
        foreach (var piece in pieces)
            weights.Add(new(piece.Each, piece.Count));
        Spreading.Spread(amount, CollectionsMarshal.AsSpan(weights), shares);
        sheet.Lower(CollectionsMarshal.AsSpan(pieces), CollectionsMarshal.AsSpan(shares));
    }

    // What is said of one run stays in its order.
    private void Sort()
    {
        if (!isSorted)
            pieces.Sort(static (x, y) => x.Run != y.Run ? x.Run.CompareTo(y.Run) : x.Place.CompareTo(y.Place));
    }

    /// <summary>Units of a run that are lowered alike.</summary>
    /// <param name="Run">The run.</param>
    /// <param name="Place">When it was said.</param>
    /// <param name="Count">How many units, behind those that were said before.</param>
    /// <param name="Each">What is taken from each, or what it weighs.</param>
    public readonly record struct Piece(int Run, int Place, int Count, long Each);
}
