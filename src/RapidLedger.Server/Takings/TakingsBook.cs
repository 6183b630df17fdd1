using System.Text.Json;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;
using RapidLedger.Storage;

namespace RapidLedger.Server.Takings;

/// <summary>Adds up what orders brought, with those from before where that is asked for.</summary>
internal sealed class TakingsBook(OpenShop shop, TakingsRepository takings, OrderRepository orders)
{
    /// <summary>Figures of a stretch: of taken orders by promotion, and how many are held.</summary>
    /// <param name="stretch">Which days.</param>
    /// <param name="withBrought">Whether orders from before are added.</param>
    public IReadOnlyDictionary<string, (Contribution Taken, long Held)> Of(Stretch stretch, bool withBrought)
    {
        var rows = new Dictionary<string, (Contribution Taken, long Held)>(StringComparer.Ordinal);
        foreach (var row in takings.Of(stretch.First, stretch.Last))
            Add(rows, row.Promotion, row.IsHeld ? default : row.Figures, row.IsHeld ? row.Figures.Orders : 0);
        if (withBrought)
            foreach (var (promotion, _, figures) in Brought(stretch))
                Add(rows, promotion, figures, 0);
        return rows;
    }

    /// <summary>The same by day, of one promotion or of all.</summary>
    public IReadOnlyDictionary<(string Day, string Promotion), Contribution> ByDay(Stretch stretch, bool withBrought, string? promotion)
    {
        var rows = new Dictionary<(string, string), Contribution>();
        foreach (var row in takings.ByDay(stretch.First, stretch.Last, promotion).Where(row => !row.IsHeld))
            rows[(row.Day, row.Promotion)] = rows.GetValueOrDefault((row.Day, row.Promotion)) + row.Figures;
        if (withBrought)
            foreach (var (of, day, figures) in Brought(stretch).Where(one => promotion is null || one.Promotion == promotion))
                rows[(day, of)] = rows.GetValueOrDefault((day, of)) + figures;
        return rows;
    }

    /// <summary>How many orders from before stand in a stretch.</summary>
    public long BroughtIn(Stretch stretch) => takings.Brought(stretch.First, stretch.Last).Sum(row => row.Orders);

    // Orders from before: in all of them, in the rows of the promotions whose codes they name, else in those without any. What those
    // promotions gave is not known.
    private IEnumerable<(string Promotion, string Day, Contribution Figures)> Brought(Stretch stretch)
    {
        var owners = new Dictionary<string, IReadOnlyCollection<string>>(StringComparer.Ordinal);
        foreach (var row in takings.Brought(stretch.First, stretch.Last))
        {
            if (!owners.TryGetValue(row.Codes, out var promotions))
                owners[row.Codes] = promotions = Owners(JsonSerializer.Deserialize<string[]>(row.Codes) ?? []);
            var figures = new Contribution(row.Orders, row.Units, row.Takings, 0, 0, 0, 0, row.MarginOf, row.Cost, 0, 0);
            yield return (Contribution.All, row.Day, figures);
            if (promotions.Count == 0)
                yield return (Contribution.Without, row.Day, figures);
            foreach (var promotion in promotions)
                yield return (promotion, row.Day, figures with { Units = 0 });
        }
    }

    private IReadOnlyCollection<string> Owners(string[] codes)
    {
        if (codes.Length == 0)
            return [];
        var bare = codes.Select(Trigger.Bare).ToHashSet(StringComparer.Ordinal);
        var batches = orders.Read(transaction => transaction.Standing(bare)).Select(code => code.BatchId).ToHashSet(StringComparer.Ordinal);
        return
        [
            .. shop
                .Promotions.Where(promotion =>
                    promotion.InForce.Promotion?.Trigger is { } trigger
                    && (
                        trigger.Codes.Any(code => bare.Contains(Trigger.Bare(Trigger.Normal(code))))
                        || trigger.Batches.Any(batches.Contains)
                    )
                )
                .Select(promotion => promotion.Stored.Id),
        ];
    }

    private static void Add(Dictionary<string, (Contribution Taken, long Held)> rows, string promotion, Contribution figures, long held)
    {
        var before = rows.GetValueOrDefault(promotion);
        rows[promotion] = (before.Taken + figures, before.Held + held);
    }
}
