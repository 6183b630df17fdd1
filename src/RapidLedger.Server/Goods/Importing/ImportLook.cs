using System.Text.Json.Nodes;
using NodaTime;
using RapidLedger.Server.PastOrders;
using RapidLedger.Server.Shop;
using RapidLedger.Storage;

namespace RapidLedger.Server.Goods.Importing;

/// <summary>A change of an amount.</summary>
/// <param name="Id">The SKU, or the shopper's id.</param>
/// <param name="Member">What changes.</param>
/// <param name="From">What it is; null: nothing.</param>
/// <param name="To">What it becomes; null: nothing.</param>
internal sealed record LargeChange(string Id, string Member, string? From, string? To);

/// <summary>What is to be known of past orders before they are brought in.</summary>
/// <param name="Differing">How many stand here already with another moment; they stay as they are.</param>
/// <param name="Assumed">In how many the price of a line is not said: it counts at today's regular price.</param>
/// <param name="UnknownCount">How many SKUs the shop does not know.</param>
/// <param name="Unknown">The first of them.</param>
internal sealed record PastOrdersLook(int Differing, int Assumed, int UnknownCount, IReadOnlyList<string> Unknown);

/// <summary>How often a member changes.</summary>
internal sealed record ChangedMember(string Member, int Count);

/// <summary>What a file would do, before anything is written.</summary>
/// <param name="New">Rows that are not there yet.</param>
/// <param name="Changed">Rows that differ.</param>
/// <param name="Same">Rows that say what is there.</param>
/// <param name="Missing">Items of the shop that are not in the file.</param>
/// <param name="Members">Which members change, and how often.</param>
/// <param name="Largest">The ten largest changes of prices.</param>
/// <param name="Stocks">Of how many known items the stock is set.</param>
/// <param name="Categories">The names of categories that are made.</param>
/// <param name="Products">Products of which all variants change, because one row does.</param>
/// <param name="BadCount">How many cells or rows are wrong.</param>
/// <param name="Bad">The first of them.</param>
/// <param name="Promotions">What it does to live promotions.</param>
/// <param name="Carts">Which sample carts come out different.</param>
/// <param name="Orders">Of past orders: what is to be known of them; null: these are none.</param>
internal sealed record ImportLook(
    int New,
    int Changed,
    int Same,
    int Missing,
    IReadOnlyList<ChangedMember> Members,
    IReadOnlyList<LargeChange> Largest,
    int Stocks,
    IReadOnlyList<string> Categories,
    int Products,
    int BadCount,
    IReadOnlyList<BadLine> Bad,
    IReadOnlyList<Effect> Promotions,
    IReadOnlyList<Effect> Carts,
    PastOrdersLook? Orders = null
)
{
    private const int MostBad = 200;
    private const int MostLarge = 10;

    /// <summary>Looks what changes of goods would do.</summary>
    public static ImportLook Of(ItemLines lines, IReadOnlyList<BadLine> unread, StepRepository steps, OpenShop shop, Instant now)
    {
        var setup = shop.Setup;
        var (rows, same, fresh) = (new List<ChangedRow>(), 0, 0);
        var changes = lines.Changes;
        foreach (var (change, row) in changes.Zip(steps.Preview(changes)))
            if (row is null)
                same += change.Kind == "variant" ? 1 : 0;
            else if (lines.Accepts(row))
            {
                rows.Add(row);
                fresh += row.Before is null && change.Kind == "variant" ? 1 : 0;
            }

        BadLine[] bad = [.. unread.Concat(lines.Bad).OrderBy(one => one.Line)];
        var known = rows.Where(row => row.Before is not null).ToArray();
        var inFile = changes.Where(change => change.Kind == "variant").Select(change => change.Id).ToHashSet(StringComparer.Ordinal);
        var effects = bad.Length > 0 ? ([], []) : ImportEffects.Of(rows, shop, now);
        return new(
            fresh,
            known.Count(row => row.Change.Kind == "variant"),
            same,
            Enumerable
                .Range(0, setup.Catalogue.Count)
                .Select(setup.Catalogue.Variant)
                .Count(variant => !variant.Gone && !inFile.Contains(variant.Sku)),
            MembersOf(known),
            LargestOf(known, ["regular", "price", "cost"]),
            lines.Stocks.Count,
            [.. lines.NewCategories.Select(category => (string)category.Members["name"]!)],
            known.Count(row => row.Change.Kind == "product"),
            bad.Length,
            [.. bad.Take(MostBad)],
            effects.Item1,
            effects.Item2
        );
    }

    /// <summary>Looks what changes of shoppers would do.</summary>
    public static ImportLook Of(ShopperLines lines, IReadOnlyList<BadLine> unread, StepRepository steps)
    {
        var rows = steps.Preview(lines.Changes).ToArray();
        BadLine[] bad = [.. unread.Concat(lines.Bad).OrderBy(one => one.Line)];
        var known = rows.Where(row => row?.Before is not null).Select(row => row!).ToArray();
        return new(
            rows.Count(row => row is { Before: null }),
            known.Length,
            rows.Count(row => row is null),
            0,
            MembersOf(known),
            [],
            0,
            [],
            0,
            bad.Length,
            [.. bad.Take(MostBad)],
            [],
            []
        );
    }

    /// <summary>Looks what past orders would bring: a number that stands here already stays as it is.</summary>
    public static ImportLook Of(PastOrderLines lines, IReadOnlyList<BadLine> unread, PastOrderRepository past)
    {
        var (known, differing) = (0, 0);
        foreach (var order in past.Known(lines.Numbers))
        {
            known++;
            differing += lines.MomentOf(order.Number) == order.At ? 0 : 1;
        }

        BadLine[] bad = [.. unread.Concat(lines.Bad).OrderBy(one => one.Line)];
        return new(
            lines.Numbers.Count() - known,
            0,
            known,
            0,
            [],
            [],
            0,
            [],
            0,
            bad.Length,
            [.. bad.Take(MostBad)],
            [],
            [],
            new(differing, lines.Assumed, lines.Unknown.Count, [.. lines.Unknown.Order(StringComparer.Ordinal).Take(MostLarge)])
        );
    }

    private static ChangedMember[] MembersOf(IEnumerable<ChangedRow> rows) =>
        [
            .. rows.SelectMany(row => row.Change.Members.Select(member => member.Key))
                .CountBy(member => member)
                .OrderByDescending(member => member.Value)
                .Select(member => new ChangedMember(member.Key, member.Value)),
        ];

    // By how much of what it was: from 1.00 to 10.00 comes before from 500 to 600.
    private static LargeChange[] LargestOf(IEnumerable<ChangedRow> rows, string[] members) =>
        [
            .. rows.Where(row => row.Change.Kind == "variant")
                .SelectMany(
                    row => members.Where(row.Change.Members.ContainsKey),
                    (row, member) => (row, member, Size: Size(row.Before![member], row.After[member]))
                )
                .OrderByDescending(change => change.Size)
                .Take(MostLarge)
                .Select(change => new LargeChange(
                    change.row.Change.Id,
                    change.member,
                    Text(change.row.Before![change.member]),
                    Text(change.row.After[change.member])
                )),
        ];

    private static decimal Size(JsonNode? from, JsonNode? to) =>
        Number(from) is { } before && Number(to) is { } after ? Math.Abs(after - before) / Math.Max(before, 0.01m) : 0;

    private static decimal? Number(JsonNode? amount) =>
        amount is JsonValue value
        && value.TryGetValue<string>(out var text)
        && decimal.TryParse(text, System.Globalization.CultureInfo.InvariantCulture, out var number)
            ? number
            : null;

    private static string? Text(JsonNode? amount) =>
        amount is JsonValue value && value.TryGetValue<string>(out var text) ? text : amount?.ToJsonString();
}
