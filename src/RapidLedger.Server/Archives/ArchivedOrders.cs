using System.Text.Json.Nodes;
using NodaTime;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Goods;
using RapidLedger.Server.PastOrders;
using RapidLedger.Storage;

namespace RapidLedger.Server.Archives;

/// <summary>The orders of a shop as they go out with it, and as they come in again: as orders from before.</summary>
internal sealed class ArchivedOrders(OrderRepository orders, PastOrderRepository past)
{
    private const int LongestLine = 1 << 16;
    private const int AtOnce = 200;

    /// <summary>
    /// All paid orders, and those that were brought in, by number; what was given back is left out. They are read as they are written, so
    /// that no more than a few are held.
    /// </summary>
    /// <param name="usual">The store's currency, which is that of orders that say none.</param>
    public IEnumerable<ArchivedOrder> All(Currency usual)
    {
        using var brought = past.All().Select(Told).GetEnumerator();
        var isMore = brought.MoveNext();
        foreach (var own in orders.Taken().Chunk(AtOnce).SelectMany(some => Own(some, usual)))
        {
            for (; isMore && string.CompareOrdinal(brought.Current.Number, own.Number) < 0; isMore = brought.MoveNext())
                yield return brought.Current;
            yield return own;
        }

        for (; isMore; isMore = brought.MoveNext())
            yield return brought.Current;
    }

    /// <summary>Reads the orders in a shop's files, before anything of them is written.</summary>
    /// <returns>The orders, null where the files say nothing of them; and what is wrong with them.</returns>
    public static async Task<(PastOrderLines? Orders, IReadOnlyList<ArchiveProblem> Problems)> Read(
        string path,
        ShopArchive archive,
        Instant now
    )
    {
        var (lines, unread) = ((PastOrderLines?)null, new List<BadLine>());
        await ArchiveFolder.ReadFile(path, ArchivePaths.Orders, async stream =>
        {
            var catalogue = ShopImport.CatalogueOf(archive);
            var settings = SettingsReader.Read(ShopImport.Bytes(archive.Settings)).Value!;
            lines = new(catalogue, new([], settings, catalogue), now);
            await foreach (var line in JsonLines.Read(stream, LongestLine, unread.Add))
                lines.Add(line);
        });
        return (
            lines,
            [
                .. unread
                    .Concat(lines?.Bad ?? [])
                    .OrderBy(bad => bad.Line)
                    .Select(bad => new ArchiveProblem(
                        ArchivePaths.Orders,
                        bad.Line,
                        "",
                        bad.Member.Length > 0 ? $"{bad.Member}: {bad.Message}" : bad.Message
                    )),
            ]
        );
    }

    /// <summary>Brings orders that were read into a shop that came in just now.</summary>
    public static async Task Bring(PastOrderBatches batches, string file, PastOrderLines read) =>
        await batches.Bring(
            StepSource.File(file),
            $"{file}: {Wording.Counted(read.Numbers.Count(), "order")} from before",
            read.Orders(),
            null,
            CancellationToken.None
        );

    private IEnumerable<ArchivedOrder> Own(StoredOrder[] some, Currency usual)
    {
        // An order that was brought in may have the number of one of the shop's own.
        var known = past.Known(some.Select(order => order.Id)).Select(order => order.Number).ToHashSet(StringComparer.Ordinal);
        return some.Select(order => Told(order, usual, known.Contains(order.Id) ? $"{order.Id} (here)" : order.Id))
            .Where(order => order.Lines.Count > 0);
    }

    private static ArchivedOrder Told(StoredOrder order, Currency usual, string number)
    {
        var (result, cart) = (KeptResult.Read(order.Result, usual), JsonNode.Parse(order.Cart)!);
        var back = order.Returned is { } returned ? JsonNode.Parse(returned)!["units"]!.AsArray() : null;
        var lines = result
            .Lines.Select((line, place) => (Kept: line, Back: (long?)back?[place] ?? 0))
            .Where(line => line.Back < line.Kept.Units)
            .Select(line => new ArchivedOrderLine(
                line.Kept.Sku,
                line.Kept.Units - line.Back,
                line.Kept.Net - Returns.Share(line.Kept.Net, line.Kept.Units, 0, line.Back)
            ));
        return new(
            number,
            Instant.FromUnixTimeSeconds(order.PlacedAt),
            result.Currency,
            order.Shopper is { } shopper && !OrderTransaction.IsStandIn(shopper) ? shopper : null,
            (string?)cart["destination"],
            (string?)cart["channel"],
            (string?)cart["method"],
            [.. result.AppliedCodes.Select(Trigger.Normal).Distinct(StringComparer.Ordinal).Order(StringComparer.Ordinal)],
            false,
            result.Delivery,
            [.. lines]
        );
    }

    private static ArchivedOrder Told((StoredPastOrder Order, IReadOnlyList<StoredPastLine> Lines) brought)
    {
        var (order, lines) = brought;
        return new(
            order.Number,
            Instant.FromUnixTimeSeconds(order.At),
            Currency.Find(order.Currency)!,
            order.Shopper,
            order.Place,
            order.Channel,
            order.Method,
            [.. JsonNode.Parse(order.Codes)!.AsArray().Select(code => (string)code!)],
            order.Assumed != 0,
            order.Delivery,
            [.. lines.Select(line => new ArchivedOrderLine(line.Sku, line.Quantity, line.Paid))]
        );
    }
}
