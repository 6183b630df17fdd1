using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Http.Features;
using Microsoft.AspNetCore.Mvc;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Selling;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Goods;

/// <summary>What came of lines that were brought in.</summary>
/// <param name="Lines">How many there were.</param>
/// <param name="Changed">How many rows differ from before: items, products and categories, or shoppers.</param>
internal sealed record LinesWritten(int Lines, int Changed);

/// <summary>An item as a shop shows it.</summary>
/// <param name="Sku">What it is asked for by.</param>
/// <param name="Product">The product that it is a variant of.</param>
/// <param name="Name">The product's name.</param>
/// <param name="Options">What tells it from the other variants.</param>
/// <param name="Category">The id of its category.</param>
/// <param name="Currency">In which its prices are told.</param>
/// <param name="Regular">Its regular price.</param>
/// <param name="Price">What it costs now in the catalogue, without promotions.</param>
/// <param name="CanBeHad">Whether there is any of it, or no end to it.</param>
internal sealed record ShownItem(
    string Sku,
    string Product,
    string Name,
    IReadOnlyDictionary<string, string> Options,
    string? Category,
    string Currency,
    string Regular,
    string Price,
    bool CanBeHad
);

/// <summary>Items as a shop shows them.</summary>
/// <param name="Items">In the order in which they came in.</param>
/// <param name="After">The SKU to go on after; null: that was all.</param>
internal sealed record ShownItems(IReadOnlyList<ShownItem> Items, string? After);

/// <summary>The calls by which a shop's server keeps goods, stock and shoppers up to date.</summary>
internal static class StoreGoods
{
    private const int MostLines = 10_000;
    private const int LongestLine = 100_000;
    private const int MostItems = 1_000;
    private const int UsualItems = 200;
    private const long LargestBody = 10 * 1024 * 1024;

    public static void MapStoreGoods(this IEndpointRouteBuilder routes)
    {
        var store = routes.MapGroup("/store/v1");
        store
            .MapPut("/items", PutItems)
            .Accepts<string>("application/x-ndjson")
            .Produces<LinesWritten>()
            .Refuses(400, 401, 403, 413, 415, 422, 503)
            .Says("putItems", "store", "Put items in, or change them, by their SKU: JSON lines")
            .WithMetadata(new ForServers());
        store
            .MapDelete("/items/{sku}", async (string sku, GoodsWriter goods, HttpContext context) =>
                await goods.TakeOut(SourceOf(context), sku) is not null ? Results.NoContent() : NoItem(sku)
            )
            .Produces(204)
            .Refuses(401, 403, 404, 503)
            .Says("takeItemOut", "store", "Take an item out of the shop")
            .WithMetadata(new ForServers());
        store
            .MapGet("/items", Items)
            .Produces<ShownItems>()
            .Refuses(400, 401, 422, 503)
            .Says("storeItems", "store", "Items as a shop shows them, in pages");
        store
            .MapPut("/stock", PutStock)
            .Accepts<string>("application/x-ndjson")
            .Produces<LinesWritten>()
            .Refuses(400, 401, 403, 413, 415, 422, 503)
            .Says("putStock", "store", "Say what is free now of items: JSON lines")
            .WithMetadata(new ForServers());
        store
            .MapPut("/shoppers", PutShoppers)
            .Accepts<string>("application/x-ndjson")
            .Produces<LinesWritten>()
            .Refuses(400, 401, 403, 413, 415, 422, 503)
            .Says("putShoppers", "store", "Put shoppers in, or change them, by their id: JSON lines")
            .WithMetadata(new ForServers());
        store
            .MapDelete("/shoppers/{id}", ForgetEndpoint.Forget)
            .Produces<Forgotten>()
            .Refuses(401, 403, 404, 503)
            .Says("forgetShopperByServer", "store", "Forget a shopper")
            .WithMetadata(new ForServers());
    }

    private static async Task<IResult> PutItems(GoodsWriter goods, OpenShop shop, HttpContext context)
    {
        await shop.FollowSetup();
        var lines = new ItemLines(shop.Setup);
        var (count, bad) = await ReadLines(context, lines.Add);
        if (bad.Count > 0)
            return Refused([.. bad, .. lines.Bad]);
        var (outcome, problems) = await goods.Write(SourceOf(context), $"{Counted(count, "item")} by the shop's server", lines);
        return problems.Count > 0 ? Refused(problems) : Results.Ok(new LinesWritten(count, outcome.Changed));
    }

    private static async Task<IResult> PutShoppers(GoodsWriter goods, OpenShop shop, HttpContext context)
    {
        var lines = new ShopperLines(shop.Setup);
        var (count, bad) = await ReadLines(context, lines.Add);
        if (bad.Count > 0)
            return Refused([.. bad, .. lines.Bad]);
        var (outcome, problems) = await goods.Write(SourceOf(context), $"{Counted(count, "shopper")} by the shop's server", lines);
        return problems.Count > 0 ? Refused(problems) : Results.Ok(new LinesWritten(count, outcome.Changed));
    }

    private static async Task<IResult> PutStock(
        [FromHeader(Name = "Idempotency-Key")] string? key,
        OpenShop shop,
        OrderRepository orders,
        HttpContext context
    )
    {
        var (catalogue, seen, faults, asked) = (
            shop.Catalogue,
            new Dictionary<string, long?>(StringComparer.Ordinal),
            new List<BadLine>(),
            new System.Text.StringBuilder()
        );
        var (count, bad) = await ReadLines(context, line =>
        {
            asked.Append(line.Members.ToJsonString()).Append('\n');
            foreach (var (name, _) in line.Members)
                if (name is not ("sku" or "stock"))
                    faults.Add(
                        new(
                            line.Number,
                            name,
                            ProblemCode.UnknownName,
                            $"'{name}' is not a name that is known here. Known are: sku, stock."
                        )
                    );
            var sku = line.Members["sku"] is JsonValue named && named.TryGetValue<string>(out var text) ? text : null;
            long? stock = line.Members["stock"] is JsonValue value && value.TryGetValue<long>(out var whole) ? whole : null;
            if (sku is null || catalogue.Find(sku) < 0)
                faults.Add(
                    new(line.Number, "sku", ProblemCode.UnknownSku, sku is null ? "A SKU is needed here." : $"There is no item {sku}.")
                );
            else if (
                !line.Members.ContainsKey("stock") || (line.Members["stock"] is not null && stock is not (>= 0 and <= ItemLines.MostStock))
            )
                faults.Add(
                    new(
                        line.Number,
                        "stock",
                        ProblemCode.OutOfRange,
                        $"What is free now is a whole number from 0 to {ItemLines.MostStock}, or null where there is no end to it."
                    )
                );
            else if (!seen.TryAdd(sku, stock))
                faults.Add(new(line.Number, "sku", ProblemCode.Duplicate, $"'{sku}' stands in an earlier line already. Keep one of both."));
        });
        if (bad.Count + faults.Count > 0)
            return Refused([.. bad, .. faults]);
        var call = key is null ? null : KeyedCalls.Of(context, key, System.Text.Encoding.UTF8.GetBytes(asked.ToString()));
        var answer = await orders.Write(transaction => call.Once(transaction, () =>
            {
                transaction.SetStock([.. seen.Select(entry => new FreeStock(entry.Key, entry.Value))]);
                return Answer.Of(200, new() { ["lines"] = count, ["changed"] = count });
            }));
        return answer!.Result;
    }

    private static IResult Items(string? after, int? take, string? currency, OpenShop shop)
    {
        if (take is < 1 or > MostItems)
            return Answers.Refused("/take", ProblemCode.OutOfRange, $"From 1 to {MostItems} items are given at once.");
        var catalogue = shop.Catalogue;
        var paid = catalogue.Store.Currency;
        if (currency is not null)
        {
            if (catalogue.Store.Currencies.FirstOrDefault(known => known.Code == currency) is not { } named)
                return Answers.Refused("/currency", ProblemCode.NoRate, $"The store cannot be paid in '{currency}'.");
            paid = named;
        }

        var from = 0;
        if (after is not null && (from = catalogue.Find(after) + 1) == 0)
            return Answers.Refused("/after", ProblemCode.UnknownSku, $"There is no item {after}. Begin from the first.");
        var (numbers, prices) = (new List<int>(), catalogue.PricesIn(paid));
        for (; from < catalogue.Count && numbers.Count < (take ?? UsualItems); from++)
            if (!catalogue.Variant(from).Gone)
                numbers.Add(from);
        var left = shop.Left([.. numbers.Select(number => catalogue.Variant(number).Sku)]);
        return Results.Ok(
            new ShownItems(
                [.. numbers.Select(number => Shown(catalogue.ProductOf(number), catalogue.Variant(number), number, paid, prices, left))],
                numbers.Count > 0 && from < catalogue.Count ? catalogue.Variant(numbers[^1]).Sku : null
            )
        );
    }

    private static ShownItem Shown(
        Product product,
        Variant variant,
        int number,
        Currency paid,
        PriceTable prices,
        IReadOnlyDictionary<string, long> left
    ) =>
        new(
            variant.Sku,
            product.Id,
            product.Name,
            variant.Options.ToDictionary(option => option.Name, option => option.Value),
            product.Category,
            paid.Code,
            paid.Write(prices.Regular(number)),
            paid.Write(prices.Current(number)),
            variant.Free(left) is not 0
        );

    private static async Task<(int Count, List<BadLine> Bad)> ReadLines(HttpContext context, Action<IncomingLine> add)
    {
        if (context.Features.Get<IHttpMaxRequestBodySizeFeature>() is { IsReadOnly: false } body)
            body.MaxRequestBodySize = LargestBody;
        var (count, bad) = (0, new List<BadLine>());
        await foreach (var line in JsonLines.Read(context.Request.Body, LongestLine, bad.Add, context.RequestAborted))
        {
            if (++count > MostLines)
            {
                bad.Add(
                    new(
                        line.Number,
                        "",
                        ProblemCode.OutOfRange,
                        $"At most {MostLines} lines are taken at once. Send the rest in another call."
                    )
                );
                break;
            }

            add(line);
        }

        if (count == 0 && bad.Count == 0)
            bad.Add(new(1, "", ProblemCode.Empty, "There is no line in it. Write one JSON object a line."));
        return (count, bad);
    }

    // Lines are counted from 1 for people, and from 0 in pointers.
    private static IResult Refused(IReadOnlyList<BadLine> bad) =>
        Answers.Refused([
            .. bad.OrderBy(one => one.Line)
                .Take(1_000)
                .Select(one => new Problem(
                    one.Line == 0 ? $"/{one.Member}"
                        : one.Member.Length == 0 ? $"/{one.Line - 1}"
                        : $"/{one.Line - 1}/{one.Member}",
                    one.Code,
                    one.Line == 0 ? one.Message : $"Line {one.Line}: {one.Message}"
                )),
        ]);

    private static StepSource SourceOf(HttpContext context) =>
        StoreKeys.Of(context) is var caller && caller.Name.Length > 0 ? StepSource.Server(caller.Name) : StepSource.Server(caller.Id);

    private static string Counted(int count, string what) => $"{count} {what}{(count == 1 ? "" : "s")}";

    private static IResult NoItem(string sku) => Answers.NotFound(ProblemCode.UnknownSku, $"There is no item {sku}.");
}
