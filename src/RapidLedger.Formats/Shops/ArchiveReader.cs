using System.Globalization;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using NodaTime.Text;
using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>Reads the files of a shop, and says of all that is wrong in which file and where it stands.</summary>
public sealed class ArchiveReader
{
    private static readonly HashSet<string> States = ["live", "paused", "archived", "draft"];

    private readonly IReadOnlyDictionary<string, Func<Stream>> files;
    private readonly List<ArchiveProblem> problems = [];

    private ArchiveReader(IReadOnlyDictionary<string, Func<Stream>> files) => this.files = files;

    /// <summary>Reads a shop.</summary>
    /// <param name="files">Its files by path, each opened when it is read.</param>
    /// <returns>The shop, or everything that is wrong with its files.</returns>
    public static (ShopArchive? Shop, IReadOnlyList<ArchiveProblem> Problems) Read(IReadOnlyDictionary<string, Func<Stream>> files)
    {
        var reader = new ArchiveReader(files);
        var shop = reader.Read();
        return (reader.problems.Count > 0 ? null : shop, reader.problems);
    }

    private ShopArchive? Read()
    {
        if (!files.ContainsKey(ArchivePaths.Store))
        {
            Fault(ArchivePaths.Store, "There is no such file here, so these are not the files of a shop.");
            return null;
        }

        if (Document(ArchivePaths.Store) is not { } head)
            return null;
        foreach (var (name, _) in head.Where(member => member.Key is not ("store" or "settings" or "carts" or "writtenOn")))
            Fault(
                ArchivePaths.Store,
                $"'{name}' is not a name that is known here. Known are: settings, store, carts, writtenOn.",
                $"/{name}"
            );
        if (head["store"] is not JsonObject store || head["settings"] is not JsonObject settings)
        {
            Fault(ArchivePaths.Store, "It holds 'store' and 'settings', each an object.");
            return null;
        }

        Take(ArchivePaths.Store, "/settings", SettingsReader.Read(Bytes(settings)).Problems);
        var read = CaseReader.ReadStore(Bytes(store));
        Take(ArchivePaths.Store, "/store", read.Problems);
        if (read.Value is not { } priced)
            return null;
        var writtenOn = (head["writtenOn"] as JsonValue)?.ToString();
        if (writtenOn is not null && !LocalDatePattern.Iso.Parse(writtenOn).Success)
            Fault(ArchivePaths.Store, $"'{writtenOn}' is not a day. Write it such as 2027-03-31.", "/writtenOn");

        var (catalogue, hasStock, index) = Goods(priced);
        var batches = Batches(priced.Currency);
        var promotions = Promotions(index, [.. batches.Select(batch => batch.Id)]);
        var carts = Carts(head);
        return new(
            store,
            settings,
            catalogue,
            promotions,
            batches,
            carts,
            files.ContainsKey(ArchivePaths.Shoppers) ? Shoppers(priced.Currency) : null,
            hasStock,
            writtenOn
        );
    }

    private (JsonObject Catalogue, bool HasStock, CatalogueIndex? Index) Goods(Store store)
    {
        var categories = files.ContainsKey(ArchivePaths.Categories)
            ? Table(ArchivePaths.Categories, text => ItemsTable.ReadCategories(ArchivePaths.Categories, text, problems))
            : [];
        IReadOnlyList<IReadOnlyList<int>> lines = [];
        var products = new JsonArray();
        var hasStock = false;
        if (files.ContainsKey(ArchivePaths.Items))
        {
            (products, lines, hasStock) = Table(ArchivePaths.Items, text => ItemsTable.ReadItems(ArchivePaths.Items, text, problems));
        }

        var catalogue = new JsonObject { ["categories"] = categories, ["products"] = products };
        var reading = CaseReader.ReadCatalogue(Bytes(catalogue), store);
        foreach (var problem in reading.Problems)
            problems.Add(
                problem.At.StartsWith("/categories", StringComparison.Ordinal)
                    ? new(ArchivePaths.Categories, null, problem.At, problem.Message)
                    : new(ArchivePaths.Items, LineOf(problem.At, lines), "", $"{problem.At.Split('/')[^1]}: {problem.Message}")
            );
        return (catalogue, hasStock, reading.Value is { } goods ? CatalogueIndex.Of(store, goods) : null);
    }

    // /products/3/variants/0/price: the line of that variant; of a product its first.
    private static int? LineOf(string at, IReadOnlyList<IReadOnlyList<int>> lines)
    {
        var steps = at.Split('/');
        int Step(int place) =>
            steps.Length > place && int.TryParse(steps[place], CultureInfo.InvariantCulture, out var number) ? number : 0;
        return steps.Length > 2 && Step(2) < lines.Count && lines[Step(2)] is { Count: > 0 } rows
            ? rows[Math.Min(Step(4), rows.Count - 1)]
            : null;
    }

    private List<ArchivedPromotion> Promotions(CatalogueIndex? index, HashSet<string> batches)
    {
        var paths = files.Keys.Where(path => path.StartsWith(ArchivePaths.Promotions, StringComparison.Ordinal)).ToArray();
        static string IdOf(string path, string ending) => ArchivePaths.Unescape(path[ArchivePaths.Promotions.Length..^ending.Length]);
        var drafts = paths
            .Where(path => path.EndsWith(ArchivePaths.Draft, StringComparison.Ordinal))
            .ToDictionary(path => IdOf(path, ArchivePaths.Draft), path => path, StringComparer.Ordinal);
        var saved = paths.Except(drafts.Values).ToDictionary(path => IdOf(path, ArchivePaths.Json), path => path, StringComparer.Ordinal);
        var ids = drafts.Keys.Union(saved.Keys).ToHashSet(StringComparer.Ordinal);
        var (all, holders) = (new List<ArchivedPromotion>(), new Dictionary<string, string>(StringComparer.Ordinal));
        foreach (var id in ids.Order(StringComparer.Ordinal))
        {
            var draft = drafts.TryGetValue(id, out var typed) ? Document(typed) : null;
            if (!saved.TryGetValue(id, out var path))
            {
                if (draft is not null)
                    all.Add(new(id, "draft", null, draft, Meant(typed!, draft)));
                continue;
            }

            if (Document(path) is not { } document)
                continue;
            var state = (document["state"] as JsonValue)?.ToString() ?? "live";
            if (!States.Contains(state) || state == "draft")
                Fault(path, $"'{state}' is not a state of what was saved. Known are: live, paused, archived.", "/state");
            if ((document["id"] as JsonValue)?.ToString() != id)
                Fault(path, $"The file is named by the id '{id}', so that is what 'id' says.", "/id");
            var meant = Meant(path, document);
            if (index is not null)
            {
                var reading = CaseReader.ReadPromotion(Bytes(document), index, ids, batches);
                // What no longer runs may name what is no longer there.
                if (state != "archived")
                    Take(path, "", reading.Problems);
            }

            foreach (var batch in state == "live" ? document["trigger"]?["batches"] as JsonArray ?? [] : [])
                if (batch?.ToString() is { } name && !holders.TryAdd(name, id))
                    Fault(
                        path,
                        $"The codes of the batch '{name}' are those of the promotion '{holders[name]}' already.",
                        "/trigger/batches"
                    );
            all.Add(new(id, state, document, draft, meant));
        }

        return all;
    }

    private List<(string, string)> Meant(string path, JsonObject document)
    {
        var meant = new List<(string, string)>();
        if (document["meant"] is not { } said)
            return meant;
        document.Remove("meant");
        if (said is JsonObject findings)
            foreach (var (finding, words) in findings)
                meant.Add((finding, words?.ToString() ?? ""));
        else
            Fault(path, "An object is expected here: of each finding its words.", "/meant");
        return meant;
    }

    private List<ArchivedBatch> Batches(Currency currency)
    {
        var all = new List<ArchivedBatch>();
        var paths = files
            .Keys.Where(path => path.StartsWith(ArchivePaths.Batches, StringComparison.Ordinal))
            .ToHashSet(StringComparer.Ordinal);
        foreach (var path in paths.Where(path => path.EndsWith(ArchivePaths.Json, StringComparison.Ordinal)).Order(StringComparer.Ordinal))
        {
            var name = path[..^ArchivePaths.Json.Length];
            if (Document(path) is not { } about)
                continue;
            foreach (var (member, _) in about.Where(one => one.Key is not ("id" or "note" or "usesEach" or "lastDay" or "void")))
                Fault(path, $"'{member}' is not a name that is known here. Known are: id, note, usesEach, lastDay, void.", $"/{member}");
            var uses =
                about["usesEach"] is not { } each ? 1L
                : each is JsonValue value && value.TryGetValue<long>(out var number) && number >= 1 ? (long?)number
                : null;
            if (uses is null && about["usesEach"]?.ToString() != "any")
                Fault(path, "A whole number from 1, or \"any\".", "/usesEach");
            var last = about["lastDay"]?.ToString();
            if (last is not null && !LocalDatePattern.Iso.Parse(last).Success)
                Fault(path, $"'{last}' is not a day. Write it such as 2027-03-31.", "/lastDay");
            var csv = name + ArchivePaths.Csv;
            all.Add(
                new(
                    ArchivePaths.Unescape(name[ArchivePaths.Batches.Length..]),
                    about["note"]?.ToString() ?? "",
                    uses,
                    last,
                    about["void"]?.ToString() == "true",
                    paths.Contains(csv) ? Codes(csv, currency) : null
                )
            );
        }

        foreach (var csv in paths.Where(path => path.EndsWith(ArchivePaths.Csv, StringComparison.Ordinal)))
            if (!paths.Contains(csv[..^ArchivePaths.Csv.Length] + ArchivePaths.Json))
                Fault(csv, $"What batch this is says {csv[..^ArchivePaths.Csv.Length]}{ArchivePaths.Json}, which is not there.");
        return all;
    }

    private readonly Dictionary<string, string> seenCodes = new(StringComparer.Ordinal);

    private List<ArchivedCode> Codes(string path, Currency currency) => Table(path, text =>
        {
            var codes = new List<ArchivedCode>();
            foreach (var (line, cells) in ItemsTable.Rows(path, text, problems, "code"))
            {
                void Bad(string message) => problems.Add(new(path, line, "", message));
                var code = cells["code"];
                if (CodeText.FaultOf(Trigger.Bare(Trigger.Normal(code))) is { } fault)
                    Bad(fault.Message);
                else if (!seenCodes.TryAdd(Trigger.Bare(Trigger.Normal(code)), path))
                    Bad($"The code '{code}' stands here a second time, or in {seenCodes[Trigger.Bare(Trigger.Normal(code))]}.");
                var drawn = 0L;
                if (cells.GetValueOrDefault("drawn") is { Length: > 0 } written && currency.Read(written, out drawn) != AmountFault.None)
                    Bad($"drawn: '{written}' is not an amount in {currency.Code}.");
                codes.Add(
                    new(
                        code,
                        Number(cells.GetValueOrDefault("used"), Bad),
                        drawn,
                        cells.GetValueOrDefault("void") == "true",
                        cells.GetValueOrDefault("note") is { Length: > 0 } note ? note : null
                    )
                );
            }

            return codes;
        });

    private List<ArchivedCart> Carts(JsonObject head)
    {
        var order = (head["carts"] as JsonArray)?.Select((id, place) => (id?.ToString() ?? "", place)).ToArray() ?? [];
        var all = new List<ArchivedCart>();
        foreach (
            var path in files
                .Keys.Where(path => path.StartsWith(ArchivePaths.Carts, StringComparison.Ordinal))
                .Order(StringComparer.Ordinal)
        )
        {
            var id = ArchivePaths.Unescape(path[ArchivePaths.Carts.Length..^ArchivePaths.Case.Length]);
            if (Document(path) is not { } document)
                continue;
            if (document["cart"] is not JsonObject cart)
                Fault(path, "A cart is missing here.", "/cart");
            else
                all.Add(new(id, document["title"]?.ToString() ?? id, cart));
        }

        return [.. all.OrderBy(cart => order.FirstOrDefault(one => one.Item1 == cart.Id, ("", int.MaxValue)).Item2)];
    }

    private List<ArchivedShopper> Shoppers(Currency currency) => Table(ArchivePaths.Shoppers, text =>
        {
            var (all, seen) = (new List<ArchivedShopper>(), new HashSet<string>(StringComparer.Ordinal));
            foreach (var (line, cells) in ItemsTable.Rows(ArchivePaths.Shoppers, text, problems, "id"))
            {
                void Bad(string message) => problems.Add(new(ArchivePaths.Shoppers, line, "", message));
                string? Cell(string column) => cells.GetValueOrDefault(column) is { Length: > 0 } cell ? cell : null;
                var id = cells["id"];
                if (id.Length == 0 || !seen.Add(id))
                    Bad(id.Length == 0 ? "The shopper has no id." : $"The shopper '{id}' stands here a second time.");
                var spent = 0L;
                if (Cell("spent") is { } written && currency.Read(written, out spent) != AmountFault.None)
                    Bad($"spent: '{written}' is not an amount in {currency.Code}.");
                all.Add(
                    new(
                        id,
                        Cell("name") ?? id,
                        Cell("groups") is { } groups ? [.. ItemsTable.Split(groups, '|').Select(ItemsTable.Plain)] : [],
                        Number(Cell("orders"), Bad),
                        spent,
                        Cell("place"),
                        Cell("language")
                    )
                );
            }

            return all;
        });

    private static long Number(string? cell, Action<string> bad)
    {
        if (string.IsNullOrEmpty(cell))
            return 0;
        if (long.TryParse(cell, NumberStyles.None, CultureInfo.InvariantCulture, out var number))
            return number;
        bad($"'{cell}' is not a whole number.");
        return 0;
    }

    private JsonObject? Document(string path)
    {
        using var stream = files[path]();
        using var bytes = new MemoryStream();
        stream.CopyTo(bytes);
        var (document, fault) = SteadyJson.Read(bytes.ToArray());
        if (fault is not null)
            Fault(path, fault);
        return document;
    }

    private T Table<T>(string path, Func<TextReader, T> read)
    {
        using var text = new StreamReader(files[path](), Encoding.UTF8);
        return read(text);
    }

    private void Take(string path, string under, IReadOnlyList<Problem> found)
    {
        foreach (var problem in found)
            problems.Add(new(path, null, under + problem.At, problem.Message));
    }

    private void Fault(string path, string message, string at = "") => problems.Add(new(path, null, at, message));

    private static byte[] Bytes(JsonNode document) => JsonSerializer.SerializeToUtf8Bytes(document);
}
