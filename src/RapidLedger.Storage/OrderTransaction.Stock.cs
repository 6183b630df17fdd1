using System.Text.Json;
using Dapper;

namespace RapidLedger.Storage;

// What is left of what is sold.
public sealed partial class OrderTransaction
{
    /// <summary>Those of some SKUs of which anything was sold, or that were counted.</summary>
    public IReadOnlyList<SoldUnits> Sold(IEnumerable<string> skus) =>
        [
            .. skus.Chunk(AtOnce)
                .SelectMany(some =>
                    connection.Query<SoldUnits>(
                        "SELECT sku, units, counted FROM sold WHERE (units > 0 OR counted IS NOT NULL) AND sku IN @some",
                        new { some },
                        transaction
                    )
                ),
        ];

    /// <summary>Sets the stock of a SKU anew, as it was counted: earlier orders no longer move it.</summary>
    public void SetStock(string sku, long counted) => SetStock([new(sku, counted)]);

    /// <summary>Sets the stock of many SKUs anew; where there is no end to one, it is no longer counted.</summary>
    public void SetStock(IReadOnlyCollection<FreeStock> stocks)
    {
        if (stocks.Count == 0)
            return;
        var list = JsonSerializer.Serialize(stocks.Select(stock => new { sku = stock.Sku, free = stock.Free }));
        connection.Execute(
            """
            DELETE FROM order_units WHERE sku IN (SELECT value ->> '$.sku' FROM json_each(@list));
            INSERT INTO sold (sku, units, counted) SELECT value ->> '$.sku', 0, value ->> '$.free' FROM json_each(@list) WHERE true
                ON CONFLICT DO UPDATE SET units = 0, counted = excluded.counted;
            UPDATE written SET uses = uses + 1;
            """,
            new { list },
            transaction
        );
    }

    /// <summary>Moves the stock of a SKU without counting it anew: what was sold of it stays sold.</summary>
    /// <param name="sku">Which.</param>
    /// <param name="stock">What the catalogue says of it, from which it moves if it was never counted.</param>
    /// <param name="by">By how much.</param>
    public void MoveStock(string sku, long? stock, long by) =>
        connection.Execute(
            """
            INSERT INTO sold (sku, units, counted) VALUES (@sku, 0, @stock + @by) ON CONFLICT DO UPDATE
                SET counted = coalesce(counted, @stock) + @by;
            UPDATE written SET uses = uses + 1;
            """,
            new
            {
                sku,
                stock,
                by,
            },
            transaction
        );

    /// <summary>Lets the stock of a SKU be as the catalogue says, less what was sold.</summary>
    public void Uncount(string sku) =>
        connection.Execute(
            "UPDATE sold SET counted = NULL WHERE sku = @sku; UPDATE written SET uses = uses + 1;",
            new { sku },
            transaction
        );
}
