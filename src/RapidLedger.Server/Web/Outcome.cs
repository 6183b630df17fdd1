using RapidLedger.Formats;

namespace RapidLedger.Server.Web;

/// <summary>Something, or what is wrong.</summary>
internal sealed record Outcome<T>(T? Value, IReadOnlyList<Problem> Problems)
    where T : class
{
    public Outcome(T value)
        : this(value, []) { }

    public Outcome(IReadOnlyList<Problem> problems)
        : this(null, problems) { }
}
