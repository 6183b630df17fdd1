using System.Text;
using System.Text.Json.Nodes;
using RapidLedger.Formats;
using RapidLedger.Server.Shop;
using RapidLedger.Storage;

namespace RapidLedger.Server.Goods;

/// <summary>Whether a row of goods may stand as it will be: what a case's catalogue may hold, no more and no less.</summary>
/// <param name="setup">The goods and settings beside it.</param>
/// <param name="coming">The ids of categories that come with it.</param>
internal sealed class GoodsRules(ShopSetup setup, IEnumerable<string> coming)
{
    private static readonly HashSet<string> None = [];

    private readonly HashSet<string> categories = new([.. setup.Catalogue.Categories.Keys, .. coming], StringComparer.Ordinal);

    /// <summary>What is wrong with a row as it will be, at its members.</summary>
    public IReadOnlyList<Problem> Problems(ChangedRow row)
    {
        switch (row.Change.Kind)
        {
            case "variant":
                return Read(GoodsBook.Document("-", null, [GoodsBook.WithoutProduct(row.After)]), "/variants/0", None);
            case "product":
                return Read(GoodsBook.Document(row.Change.Id, row.After.ToJsonString(), []), "", categories);
            default:
                return OfCategory(row);
        }
    }

    private IReadOnlyList<Problem> Read(string document, string under, IReadOnlySet<string> known)
    {
        var reading = CaseReader.ReadProduct(Encoding.UTF8.GetBytes(document), setup.Catalogue.Store, known);
        return
        [
            .. reading.Problems.Select(problem =>
                problem.At.StartsWith(under, StringComparison.Ordinal) ? problem with { At = problem.At[under.Length..] } : problem
            ),
        ];
    }

    private List<Problem> OfCategory(ChangedRow row)
    {
        var problems = new List<Problem>();
        if (row.After["name"] is not JsonValue name || !name.TryGetValue<string>(out var text) || text.Trim().Length == 0)
            problems.Add(new("/name", ProblemCode.Missing, "A category needs a name."));
        if (row.After["parent"] is not { } above)
            return problems;
        if (above is not JsonValue named || !named.TryGetValue<string>(out var parent))
            problems.Add(new("/parent", ProblemCode.WrongType, "The id of a category is expected here."));
        else if (!categories.Contains(parent))
            problems.Add(new("/parent", ProblemCode.UnknownCategory, $"There is no category '{parent}'."));
        else
            for (var step = parent; step is not null; step = setup.Catalogue.Categories.GetValueOrDefault(step)?.Parent)
                if (step == row.Change.Id)
                {
                    problems.Add(new("/parent", ProblemCode.Cycle, $"'{row.Change.Id}' would lie in itself. Give it another parent."));
                    break;
                }

        return problems;
    }
}
