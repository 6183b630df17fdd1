namespace RapidLedger.Formats;

/// <summary>A place in a document: the way down to it, with the position of each step, so that places sort as they stand there.</summary>
/// <param name="Parent">What it stands in; null: it is the document.</param>
/// <param name="Step">Its name or number there.</param>
/// <param name="Position">Where among its like.</param>
public sealed record Pointer(Pointer? Parent, string Step, int Position) : IComparable<Pointer>
{
    /// <summary>The document itself.</summary>
    public static readonly Pointer Root = new(null, "", 0);

    private int Depth => Parent is null ? 0 : Parent.Depth + 1;

    /// <summary>A member of an object here.</summary>
    public Pointer Member(string name, int position) => new(this, name, position);

    /// <summary>A member that is not there: after all that are.</summary>
    public Pointer Absent(string name) => new(this, name, int.MaxValue);

    /// <summary>An item of a list here.</summary>
    public Pointer Item(int index) => new(this, index.ToString(System.Globalization.CultureInfo.InvariantCulture), index);

    /// <inheritdoc/>
    public int CompareTo(Pointer? other)
    {
        if (other is null)
            return 1;
        if (Depth > other.Depth)
            return Parent!.CompareTo(other) is not 0 and var up ? up : 1;
        if (Depth < other.Depth)
            return -other.CompareTo(this);
        if (Parent is null)
            return 0;
        return Parent.CompareTo(other.Parent) is not 0 and var above ? above : Position.CompareTo(other.Position);
    }

    /// <summary>As RFC 6901 writes it.</summary>
    public override string ToString() => Parent is null ? "" : $"{Parent}/{Escaped(Step)}";

    /// <summary>A step as it stands in a pointer.</summary>
    public static string Escaped(string step) =>
        step.Replace("~", "~0", StringComparison.Ordinal).Replace("/", "~1", StringComparison.Ordinal);
}

/// <summary>The problems found in one document.</summary>
internal sealed class ProblemList
{
    private readonly List<(Pointer At, string Code, string Message)> found = [];

    public int Count => found.Count;

    public void Add(Pointer at, string code, string message) => found.Add((at, code, message));

    /// <summary>The problems as they stand in the document.</summary>
    public IReadOnlyList<Problem> InOrder() =>
        [.. found.OrderBy(entry => entry.At).Select(entry => new Problem(entry.At.ToString(), entry.Code, entry.Message))];
}
