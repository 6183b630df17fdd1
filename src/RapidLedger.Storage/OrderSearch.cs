using System.Globalization;
using System.Text.Json;
using Dapper;
using Microsoft.Data.Sqlite;

namespace RapidLedger.Storage;

/// <summary>Which orders are looked for: any that one of these says, of one state, promotion and stretch of days.</summary>
/// <param name="Beginning">How the id begins; null: it says nothing.</param>
/// <param name="Bare">A code that was used, without hyphens and spaces; null: it says nothing.</param>
/// <param name="Shoppers">Who bought.</param>
/// <param name="Promotions">What applied.</param>
/// <param name="Skus">What was bought or given.</param>
/// <param name="Day">The store's date of placing, ISO 8601; null: it says nothing.</param>
/// <param name="Amount">What it came to, in its own currency; null: it says nothing.</param>
/// <param name="State">held, taken, givenBack or lapsed; null: any.</param>
public sealed record OrderQuery(
    string? Beginning,
    string? Bare,
    IReadOnlyCollection<string> Shoppers,
    IReadOnlyCollection<string> Promotions,
    IReadOnlyCollection<string> Skus,
    string? Day,
    SoughtAmount? Amount,
    string? State
)
{
    /// <summary>Only those in which this promotion applied; null: all.</summary>
    public string? Of { get; init; }

    /// <summary>Only those placed on this date of the store or later, ISO 8601; null: from the first on.</summary>
    public string? From { get; init; }

    /// <summary>Only those placed on this date or before; null: to the last.</summary>
    public string? To { get; init; }

    /// <summary>Whether none of the things that are typed is asked for.</summary>
    public bool IsOpen => this == All with { State = State, Of = Of, From = From, To = To };

    /// <summary>All orders.</summary>
    public static readonly OrderQuery All = new(null, null, [], [], [], null, null, null);
}

/// <summary>An amount as it was typed, read in every currency of the store.</summary>
/// <param name="Base">The base currency (ISO 4217).</param>
/// <param name="Read">What it is in each.</param>
public sealed record SoughtAmount(string Base, IReadOnlyList<AmountIn> Read)
{
    // In the base currency, if it can be read in it.
    internal long? OfBase => Read.FirstOrDefault(one => one.Currency == Base)?.Minor;

    internal IReadOnlyList<AmountIn> Abroad { get; } = [.. Read.Where(one => one.Currency != Base)];

    // As a query puts together a row's own: 5000 GBP.
    internal IEnumerable<string> Both => Read.Select(one => string.Create(CultureInfo.InvariantCulture, $"{one.Minor} {one.Currency}"));
}

/// <summary>An amount in a currency.</summary>
/// <param name="Currency">Which (ISO 4217).</param>
/// <param name="Minor">In its minor units.</param>
/// <param name="Written">As results write it: 12.50.</param>
public sealed record AmountIn(string Currency, long Minor, string Written);

/// <summary>
/// Finds orders, those that changed last first. Each way of finding gives its own newest; the newest of these are the page. Where few
/// match, they are fetched and sorted; where many do, the newest orders are asked one after the other: either way a page costs about the
/// same in a small shop and in one with a million orders.
/// </summary>
internal sealed class OrderSearch(SqliteConnection connection, SqliteTransaction transaction)
{
    // From here on so many match that a page of them is found sooner among the newest.
    private const int Many = 2_000;

    /// <summary>A page of the orders that are looked for.</summary>
    /// <param name="query">Which.</param>
    /// <param name="before">Only such as changed before that change; null: from the newest.</param>
    /// <param name="take">At most so many.</param>
    public IReadOnlyList<StoredOrder> Find(OrderQuery query, long? before, int take)
    {
        var parameters = new DynamicParameters(
            new
            {
                before = before ?? long.MaxValue,
                take,
                query.State,
                query.Beginning,
                Behind = query.Beginning + char.MaxValue,
                query.Bare,
                query.Shoppers,
                query.Promotions,
                query.Skus,
                query.Day,
                query.Amount?.Base,
                query.Amount?.OfBase,
                query.Of,
                query.From,
                query.To,
                Many,
            }
        );
        var open = string.Join(" AND ", Always(query));
        if (query is { IsOpen: true, Of: null })
            return Read($"{open} ORDER BY change DESC LIMIT @take", parameters);
        var ids = new HashSet<string>(StringComparer.Ordinal);
        foreach (var (place, abroad) in (query.Amount?.Abroad ?? []).Index())
        {
            parameters.Add($"Currency{place}", abroad.Currency);
            parameters.Add($"Written{place}", abroad.Written);
        }

        foreach (var way in Ways(query))
            ids.UnionWith(Newest(way, open, parameters));
        parameters.Add("ids", JsonSerializer.Serialize(ids));
        return Read($"id IN (SELECT value FROM json_each(@ids)) AND {open} ORDER BY change DESC LIMIT @take", parameters);
    }

    private IEnumerable<string> Newest(Way way, string open, DynamicParameters parameters)
    {
        if (way.Ids is { } all)
        {
            var ids = connection.Query<string>($"{all} LIMIT @Many", parameters, transaction).AsList();
            if (ids.Count < Many)
                return ids;
        }

        return connection.Query<string>(
            $"SELECT id FROM orders WHERE {way.Holds} AND {open} ORDER BY change DESC LIMIT @take",
            parameters,
            transaction
        );
    }

    private IReadOnlyList<StoredOrder> Read(string where, DynamicParameters parameters) =>
        connection.Query<StoredOrder>($"{OrderTransaction.Select} WHERE {where}", parameters, transaction).AsList();

    private static IEnumerable<string> Always(OrderQuery query)
    {
        yield return "change < @before";
        if (query.State is not null)
            yield return "state = @State";
        if (query.From is not null)
            yield return "day >= @From";
        if (query.To is not null)
            yield return "day <= @To";
        if (query.Of is not null)
            yield return OfOne.Holds;
    }

    private static readonly Way OfOne = new(
        "SELECT order_id FROM redemptions WHERE promotion_id = @Of AND order_id IS NOT NULL",
        "EXISTS (SELECT 1 FROM redemptions WHERE order_id = orders.id AND promotion_id = @Of)"
    );

    private static IEnumerable<Way> Ways(OrderQuery query)
    {
        if (query.IsOpen)
            yield return OfOne;
        if (query.Beginning is not null)
            yield return new("SELECT id FROM orders WHERE id >= @Beginning AND id < @Behind", "id >= @Beginning AND id < @Behind");
        if (query.Bare is not null)
            yield return new(
                "SELECT order_id FROM order_codes WHERE bare = @Bare",
                "EXISTS (SELECT 1 FROM order_codes WHERE order_id = orders.id AND bare = @Bare)"
            );
        if (query.Shoppers.Count > 0)
            yield return new("SELECT id FROM orders WHERE shopper IN @Shoppers", "shopper IN @Shoppers");
        if (query.Promotions.Count > 0)
            yield return new(
                "SELECT order_id FROM redemptions WHERE promotion_id IN @Promotions AND order_id IS NOT NULL",
                "EXISTS (SELECT 1 FROM redemptions WHERE order_id = orders.id AND promotion_id IN @Promotions)"
            );
        if (query.Skus.Count > 0)
            yield return new(
                "SELECT order_id FROM order_items WHERE sku IN @Skus",
                "EXISTS (SELECT 1 FROM order_items WHERE order_id = orders.id AND sku IN @Skus)"
            );
        if (query.Day is not null)
            yield return new(null, "day = @Day");
        // What is paid abroad is found by what was paid, not by what that is at today's rate.
        if (query.Amount is { OfBase: not null })
            yield return new(null, "total = @OfBase AND coalesce(json_extract(cart, '$.currency') = @Base, true)");
        for (var place = 0; place < (query.Amount?.Abroad.Count ?? 0); place++)
            yield return new(
                null,
                $"json_extract(cart, '$.currency') = @Currency{place} AND json_extract(result, '$.totals.total') = @Written{place}"
            );
    }

    /// <summary>A way of finding.</summary>
    /// <param name="Ids">All that it finds, in no order; null: they are found in the order of their changes, by an index.</param>
    /// <param name="Holds">What it asks of one order.</param>
    private sealed record Way(string? Ids, string Holds);
}
