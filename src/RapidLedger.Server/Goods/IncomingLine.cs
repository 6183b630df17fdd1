using System.Text.Json.Nodes;
using RapidLedger.Formats;

namespace RapidLedger.Server.Goods;

/// <summary>
/// A line of goods or shoppers as it comes in, of a file or a call: members that are left out stay as they are, null empties them.
/// </summary>
/// <param name="Number">Which line it was, for messages.</param>
/// <param name="Members">What it says.</param>
internal sealed record IncomingLine(int Number, JsonObject Members)
{
    /// <summary>What is wrong with members that a line of its kind does not have.</summary>
    /// <param name="known">Those that it may have.</param>
    public IEnumerable<BadLine> UnknownMembers(IReadOnlyCollection<string> known)
    {
        foreach (var (name, _) in Members)
            if (!known.Contains(name))
                yield return new(
                    Number,
                    name,
                    ProblemCode.UnknownName,
                    $"'{name}' is not a name that is known here. Known are: {string.Join(", ", known)}."
                );
    }
}

/// <summary>What is wrong with a line.</summary>
/// <param name="Line">Its number.</param>
/// <param name="Member">The member that is wrong; empty: the line.</param>
/// <param name="Code">As in a refusal.</param>
/// <param name="Message">What is wrong and what to do.</param>
internal sealed record BadLine(int Line, string Member, string Code, string Message);
