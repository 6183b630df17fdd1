using System.Globalization;
using System.IO.Compression;
using System.Text.Json.Nodes;
using RapidLedger.Tests;

namespace RapidLedger.Server.Tests;

/// <summary>A whole shop goes out as files and comes in again, into a new file or in the place of another; a backup is put back.</summary>
public sealed class ArchiveTests
{
    [Fact]
    public async Task The_demo_shop_is_its_folder()
    {
        await using var demo = await RunningServer.Start();
        var folder = Directory.CreateTempSubdirectory("rapid-ledger").FullName;
        string In(string name) => Path.Combine(folder, name);
        var source = Path.Combine(RunningServer.Root, "demo");
        var (exit, _, errors) = RunningServer.Run("", "import", source, "--data", In("own.db"));
        Assert.Equal(1, exit);
        Assert.Contains("  Newsletter", errors.Split('\n'));
        Assert.False(File.Exists(In("own.db")));
        Assert.Equal(0, RunningServer.Run("", "import", source, "--data", In("own.db"), "--uses-begin-anew").Exit);
        Assert.Equal(0, RunningServer.Run("", "export", In("imported"), "--shoppers", "--data", In("own.db")).Exit);
        Assert.Equal(0, RunningServer.Run("", "export", In("served"), "--shoppers", "--data", demo.Data).Exit);
        Same(In("imported"), In("served"));
        Assert.Equal(0, RunningServer.Run("", "check-store", In("own.db")).Exit);

        // All of it is read, and its carts are priced; what cannot be is told at its place.
        var (_, checkedAll, _) = RunningServer.Run("", "check", In("imported"));
        Assert.Equal("1 as expected, 0 not\n", checkedAll);
        var kept = Path.Combine(In("served"), "carts", "workshop.case.json");
        File.WriteAllText(kept, File.ReadAllText(kept).Replace("CHAIN-OIL-100-ML", "CHAIN-OIL-5-L", StringComparison.Ordinal));
        var (failed, told, _) = RunningServer.Run("", "check", In("served"));
        Assert.Equal(1, failed);
        Assert.Contains("served/carts/workshop.case.json/cart/lines/", told, StringComparison.Ordinal);

        // A pipeline looks at the folder as the desk looks at the shop that it makes; what is said to be meant is not told again.
        Assert.Equal(0, RunningServer.Run("", "import", In("imported"), "--data", In("again.db"), "--uses-begin-anew").Exit);
        await using var again = await RunningServer.Start(demo: false, data: In("again.db"));
        string[] Found() =>
            [
                .. RunningServer
                    .Run("", "review", In("imported"))
                    .Output.Split('\n')
                    .Where(line => line.Contains("promotions/climb.json", StringComparison.Ordinal)),
            ];
        var found = Found();
        Assert.NotEmpty(found);
        var file = Path.Combine(In("imported"), "promotions", "climb.json");
        var document = JsonNode.Parse(File.ReadAllText(file))!.AsObject();
        var look = (await again.Send(HttpMethod.Post, "/api/review", new { draft = document.DeepClone() })).Body!.AsArray();
        document["meant"] = new JsonObject(
            look.Select(one =>
                    KeyValuePair.Create(
                        string.Join(
                            ' ',
                            ((string?[])[(string?)one!["check"], (string?)one["at"], (string?)one["other"]]).Where(part =>
                                !string.IsNullOrEmpty(part)
                            )
                        ),
                        (JsonNode?)"so"
                    )
                )
                .DistinctBy(one => one.Key)
        );
        File.WriteAllText(file, document.ToJsonString());
        Assert.Empty(Found());
    }

    [Theory]
    [InlineData("AUD", 1)]
    [InlineData("KWD", 2)]
    [InlineData("CLP", 3)]
    public async Task Taken_along_and_opened_elsewhere_it_is_the_same_shop(string currency, int seed)
    {
        var own = OwnShop.Of(currency);
        await using var server = await own.Serve();
        using var shop = new Store(server, Store.NewKey(server, "server"));
        await shop.Put(
            "items",
            $$$"""
            {"sku": "A", "price": "{{{own.Money(
                1_500
            )}}}", "options": {"size=x": "a|b"}, "prices": {"GBP": {"regular": "9.99", "price": "8.00"} } }
            {"sku": "=N", "product": "new", "name": "New, \"quoted\"", "category": ["Tents", "For two"], "regular": "{{{own.Money(
                777
            )}}}", "stock": 4, "tags": ["-5", "b"]}
            """
        );
        await shop.Delete("items/C");
        var batch = await Store.Bring(server, "AB-12", "CD-34");
        await Store.PutLive(
            server,
            $$$"""{"id": "ten", "name": "Ten", "trigger": {"codes": ["TEN"], "batches": ["{{{batch}}}"]}, "rewards": [{"kind": "discount", "on": {"in": [{"all": true}], "out": [{"tag": "b"}]}, "take": {"percent": 10}, "per": "unit"}]}"""
        );
        await Store.PutLive(
            server,
            """{"id": "two", "name": "Two for one", "rewards": [{"kind": "buyGet", "buy": {"of": {"in": [{"all": true}]}, "quantity": 2}, "get": {"of": {"in": [{"all": true}]}, "quantity": 1, "take": {"percent": 50}}, "repeat": "every"}]}"""
        );
        await server.Send(
            HttpMethod.Post,
            "/api/promotions",
            new { document = JsonNode.Parse("""{"name": "Only begun", "rewards": [7]}""") }
        );

        var folder = Directory.CreateTempSubdirectory("rapid-ledger").FullName;
        string In(string name) => Path.Combine(folder, name);
        void Export(string to, string data, params string[] parts) =>
            Assert.Equal(0, RunningServer.Run("", ["export", In(to), "--data", data, .. parts]).Exit);
        Export("before", server.Data);
        var cart = own.Cart(("A", 1)).With("codes", "[\"ab12\"]").With("shopper", """{"id": "s1"}""");
        Assert.Equal(201, (await shop.Place(cart, await shop.Quote(cart), "k1", take: true)).Status);
        Export("after", server.Data);
        Same(In("before"), In("after"));

        await WithOrders(server, own, shop, In("past.csv"));
        Export("all.zip", server.Data, "--all");
        var into = RunningServer.Run("", "import", In("all.zip"), "--data", In("other.db"));
        Assert.Equal(0, into.Exit);
        Assert.EndsWith($" in a new file, {In("other.db")}.\n", into.Output, StringComparison.Ordinal);
        Export("again.zip", In("other.db"), "--all");
        Assert.Equal(File.ReadAllBytes(In("all.zip")), File.ReadAllBytes(In("again.zip")));
        var zip = await server.Http.GetByteArrayAsync("/api/archive?stock=true&shoppers=true&codes=true&orders=true");
        Assert.Equal(File.ReadAllBytes(In("all.zip")), zip);
        Assert.Equal(0, RunningServer.Run("", "check-store", In("other.db")).Exit);

        await SameOrders(server, In("all.zip"), In("other.db"));

        await using var elsewhere = await RunningServer.Start(demo: false, data: In("other.db"));
        using var there = new Store(elsewhere, Store.NewKey(elsewhere, "server"));
        var random = new Random(seed);
        for (var round = 0; round < 60; round++)
        {
            string[] skus = ["A", "B", "G", "=N"];
            var drawn = own.Cart([.. Enumerable.Range(0, random.Next(1, 4)).Select(_ => (skus[random.Next(4)], random.Next(1, 4)))]);
            if (random.Next(3) == 0)
                drawn.With("codes", new[] { "[\"TEN\"]", "[\"AB-12\"]", "[\"cd34\"]" }[random.Next(3)]);
            if (random.Next(3) == 0)
                drawn.With("currency", "\"GBP\"");
            if (random.Next(3) == 0)
                drawn.With("shopper", """{"id": "s1"}""");
            var (here, elsewhereToo) = (await shop.Quote(drawn), await there.Quote(drawn));
            Assert.True(JsonNode.DeepEquals(here["result"], elsewhereToo["result"]), drawn.ToJsonString());
        }
    }

    // Paid, held, given back in part and whole, abroad; and such as were brought in, of which one has a number that is given here, too.
    private static async Task WithOrders(RunningServer server, OwnShop own, Store shop, string list)
    {
        async Task<string> Place(JsonObject cart, bool take = true)
        {
            var key = Guid.NewGuid().ToString();
            var (status, order) = await shop.Place(cart, await shop.Quote(cart), key, take);
            Assert.Equal(201, status);
            return (string)order["id"]!;
        }

        var paid = await Place(own.Cart(("A", 3), ("B", 2)).With("codes", "[\"cd34\", \"ten\"]").With("shopper", """{"id": "s1"}"""));
        await Place(own.Cart(("G", 1)), take: false);
        await Place(own.Cart(("B", 4)).With("currency", "\"GBP\""));
        var part = await Place(own.Cart(("A", 3), ("G", 1)).With("method", "\"parcel\""));
        await shop.Post($"orders/{part}/give-back", new { lines = new[] { new { line = 0, quantity = 1 } } }, "part");
        await shop.Post($"orders/{await Place(own.Cart(("A", 1)))}/give-back", null, "whole");
        await File.WriteAllTextAsync(
            list,
            $"order,at,sku,quantity,paid,code,shopper,currency\nÄ 7,2024-05-06 07:08,A,2,{own.Money(1_000)},TEN,=s7,\nÄ 7,2024-05-06 07:08,OLD,1,{own.Money(5)},,,\nB8,2024-05-06,A,1,,,,\n{paid},2024-05-07,G,1,1.50,,,GBP\n"
        );
        var (exit, _, errors) = RunningServer.Run("", "import", list, "--data", server.Data, "--what", "orders");
        Assert.True(exit == 0, errors);
    }

    // What the shop was told of its own orders is what goes out; what was given back and what is only held does not.
    private static async Task SameOrders(RunningServer server, string zip, string other)
    {
        using var archive = ZipFile.OpenRead(zip);
        using var reader = new StreamReader(archive.GetEntry("orders.jsonl")!.Open());
        var rows = (await reader.ReadToEndAsync())
            .Split('\n', StringSplitOptions.RemoveEmptyEntries)
            .Select(row => JsonNode.Parse(row)!)
            .GroupBy(row => (string)row["order"]!)
            .ToDictionary(order => order.Key, order => order.ToArray());
        var told = (await server.Get("/api/orders?state=taken"))["orders"]!.AsArray();
        Assert.Equal(4, told.Count);
        Assert.Equal(told.Count + 3, rows.Count);
        var brought = 0;
        foreach (var id in told.Select(order => (string)order!["id"]!))
        {
            var order = await server.Get($"/api/orders/{id}");
            var own = rows.TryGetValue($"{id} (here)", out var renamed) ? renamed : rows[id];
            brought += renamed is null ? 0 : 1;
            var back = order["returned"]?["units"]?.AsArray();
            var lines = order["result"]!["lines"]!
                .AsArray()
                .Select((line, place) => (line, Back: (long?)back?[place] ?? 0))
                .Where(one => (long)one.line!["quantity"]! > one.Back)
                .ToArray();
            Assert.Equal(
                lines.Select(one => ((string)one.line!["sku"]!, (long)one.line["quantity"]! - one.Back)),
                own.Select(row => ((string)row["sku"]!, (long)row["quantity"]!))
            );
            Assert.Equal((string)order["placedAt"]!, (string)own[0]["at"]!);
            Assert.Equal(
                order["result"]!["codes"]!
                    .AsArray()
                    .Where(code => (string)code!["status"]! == "applied")
                    .Select(code => (string)code!["code"]!)
                    .Order(StringComparer.Ordinal),
                own[0]["code"]?.AsArray().Select(code => (string)code!) ?? []
            );
            Assert.Equal((string)order["result"]!["currency"]!, (string)own[0]["currency"]!);
            if (back is null)
                Assert.Equal(lines.Select(one => (string)one.line!["net"]!), own.Select(row => (string)row["paid"]!));
            else
                // Of three units at one price two are left.
                Assert.InRange(Number(own[0]["paid"]!) - (Number(lines[0].line!["net"]!) * 2 / 3), -1, 1);
        }

        Assert.Equal(1, brought);
        // Brought orders are as they came; of one the price was assumed, and that stays said.
        Assert.Contains(rows.Values, order => order[0]["code"] is not null);
        Assert.Equal(("=s7", 2), ((string)rows["Ä 7"][0]["shopper"]!, rows["Ä 7"].Length));
        Assert.True((bool)rows["B8"][0]["assumed"]!);
        await using var elsewhere = await RunningServer.Start(demo: false, data: other);
        Assert.Equal(7, (int)(await elsewhere.Get("/api/takings?from=2024-05-01&brought=true"))["all"]!["orders"]!);

        static decimal Number(JsonNode amount) => decimal.Parse((string)amount!, CultureInfo.InvariantCulture);

        // A row that is wrong says where, and nothing is written.
        var folder = Directory.CreateTempSubdirectory("rapid-ledger").FullName;
        archive.ExtractToDirectory(folder);
        await File.AppendAllTextAsync(
            Path.Combine(folder, "orders.jsonl"),
            "{\"order\": \"C9\", \"at\": \"2024-05-06\", \"sku\": \"A\"}\n"
        );
        var fresh = Path.Combine(folder, "fresh.db");
        var (exit, _, errors) = RunningServer.Run("", "import", folder, "--data", fresh);
        Assert.Equal((1, false), (exit, File.Exists(fresh)));
        Assert.Contains($"orders.jsonl, line {rows.Values.Sum(order => order.Length) + 1}: quantity: ", errors, StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_folder_takes_the_place_of_a_shop_that_is_served_as_one_edition_and_orders_stay()
    {
        var own = OwnShop.Of("EUR");
        await using var server = await own.Serve();
        using var shop = new Store(server, Store.NewKey(server, "server"));
        const string rule =
            """{"id": "ten", "name": "Ten", "rewards": [{"kind": "discount", "on": {"in": [{"all": true}]}, "take": {"percent": 10}, "per": "unit"}]}""";
        var ten = await Store.PutLive(server, rule);
        var five = await Store.PutLive(
            server,
            rule.Replace("10", "5", StringComparison.Ordinal).Replace("ten", "five", StringComparison.Ordinal)
        );
        var cart = own.Cart(("A", 1));
        var (_, order) = await shop.Place(cart, await shop.Quote(cart), "k1", take: true);
        var folder = Path.Combine(Directory.CreateTempSubdirectory("rapid-ledger").FullName, "shop");
        (int Exit, string Output, string Errors) Import(params string[] more) =>
            RunningServer.Run("", ["import", folder, "--data", server.Data, .. more]);
        Assert.Equal(0, RunningServer.Run("", "export", folder, "--data", server.Data).Exit);
        Assert.Contains("holds a shop already. Add --replace", Import().Errors, StringComparison.Ordinal);

        // The same in its own place changes nothing.
        Assert.Contains("0 promotions differ", Import("--replace").Output, StringComparison.Ordinal);
        var items = File.ReadAllText(Path.Combine(folder, "items.csv"));
        File.WriteAllText(
            Path.Combine(folder, "items.csv"),
            string.Join('\n', items.Split('\n').Where(row => !row.Contains(",C,", StringComparison.Ordinal)))
                .Replace("19.99", "25.00", StringComparison.Ordinal)
        );
        File.Delete(Path.Combine(folder, "promotions", $"{ten}.json"));
        File.WriteAllText(
            Path.Combine(folder, "promotions", "new.json"),
            rule.Replace("10", "20", StringComparison.Ordinal).Replace("\"ten\"", "\"new\"", StringComparison.Ordinal)
        );
        var before = (await server.Get("/api/edition"))["edition"]!["number"]!.GetValue<long>();
        var (exit, output, errors) = Import("--replace");
        Assert.True(exit == 0, errors);
        Assert.Contains("2 promotions differ from before", output, StringComparison.Ordinal);
        Assert.True(File.Exists($"{server.Data}.before-import"));
        using var patience = new CancellationTokenSource(TimeSpan.FromSeconds(30));
        while ((string)(await shop.Quote(cart))["result"]!["totals"]!["net"]! != "19.00")
            await Task.Delay(100, patience.Token);
        Assert.Equal(before + 1, (await server.Get("/api/edition"))["edition"]!["number"]!.GetValue<long>());
        Assert.Equal("archived", (string)(await server.Get($"/api/promotions/{ten}"))["state"]!);
        Assert.Equal("live", (string)(await server.Get($"/api/promotions/{five}"))["state"]!);
        Assert.Equal("taken", (string)(await shop.Get($"orders/{order["id"]}"))["state"]!);
        Assert.Equal(422, (await shop.Post("quote", new { cart = own.Cart(("C", 1)) }, null)).Status);
        Assert.Equal(0, RunningServer.Run("", "check-store", server.Data).Exit);

        // A code that is in a batch here cannot be a promotion's own, also where the batch is not in the folder: then prices stay, too.
        await Store.Bring(server, "DUP-1");
        var list = Path.Combine(folder, "items.csv");
        File.WriteAllText(list, File.ReadAllText(list).Replace("25.00", "30.00", StringComparison.Ordinal));
        var fresh = Path.Combine(folder, "promotions", "new.json");
        var asWritten = File.ReadAllText(fresh);
        File.WriteAllText(
            fresh,
            asWritten.Replace("\"rewards\"", "\"trigger\": {\"codes\": [\"dup1\"]}, \"rewards\"", StringComparison.Ordinal)
        );
        (exit, _, errors) = Import("--replace");
        Assert.Equal(1, exit);
        Assert.StartsWith("These codes are a promotion's own and in a batch, too: DUP1.", errors, StringComparison.Ordinal);
        Assert.Equal("19.00", (string)(await shop.Quote(cart))["result"]!["totals"]!["net"]!);

        // What cannot be read changes nothing, and says where.
        File.WriteAllText(Path.Combine(folder, "promotions", "new.json"), rule.Replace("percent", "procent", StringComparison.Ordinal));
        (exit, _, errors) = Import("--replace");
        Assert.Equal(1, exit);
        Assert.Contains("promotions/new.json/rewards/0/take", errors, StringComparison.Ordinal);
        Assert.Contains("promotions/new.json/id: ", errors, StringComparison.Ordinal);
        Assert.Equal("19.00", (string)(await shop.Quote(cart))["result"]!["totals"]!["net"]!);
    }

    [Fact]
    public async Task A_backup_is_put_back_only_under_nobody_and_what_was_there_is_kept()
    {
        var own = OwnShop.Of("CLP");
        await using var server = await own.ServeShipped();
        using var shop = new Store(server, Store.NewKey(server, "server"));
        var cart = own.Cart(("A", 1));
        async Task Place(string key) => Assert.Equal(201, (await shop.Place(cart, await shop.Quote(cart), key)).Status);
        await Place("k1");
        var backup = $"{server.Data}.kept";
        Assert.Equal(0, RunningServer.Run("", "backup", backup, "--data", server.Data).Exit);
        await Place("k2");
        await Place("k3");
        var newest = (long)(await shop.Get("orders?after=0"))["orders"]!.AsArray()[^1]!["change"]!;
        var (exit, _, errors) = RunningServer.Run("", "restore", backup, "--data", server.Data);
        Assert.Equal(1, exit);
        Assert.Contains("is being served", errors, StringComparison.Ordinal);
        server.Kill();
        Assert.Equal(0, RunningServer.Run("", "restore", backup, "--data", server.Data).Exit);
        await server.StartAgain();
        using var again = new Store(server, Store.NewKey(server, "server"));
        var orders = (await again.Get("orders?after=0"))["orders"]!.AsArray();
        Assert.Single(orders);
        // Who follows by the numbers of before misses nothing.
        Assert.True((long)orders[0]!["change"]! > newest);
        Assert.Equal(0, RunningServer.Run("", "check-store", $"{server.Data}.before-restore").Exit);
        Assert.Equal(1, RunningServer.Run("", "restore", Path.Combine(RunningServer.Root, "README.md"), "--data", server.Data).Exit);
    }

    [Fact]
    public void Hostile_zips_are_refused_and_make_no_file()
    {
        var folder = Directory.CreateTempSubdirectory("rapid-ledger").FullName;
        string In(string name) => Path.Combine(folder, name);
        const string store = """{"store": {"currency": "EUR"}, "settings": {"name": "S", "locale": "en-GB"}}""";
        void Zip(string name, params (string Path, Action<Stream> Write)[] files)
        {
            using var zip = ZipFile.Open(In(name), ZipArchiveMode.Create);
            foreach (var (path, write) in files)
            {
                using var stream = zip.CreateEntry(path).Open();
                write(stream);
            }
        }

        Action<Stream> Text(string text) => to => to.Write(System.Text.Encoding.UTF8.GetBytes(text));
        Zip("outside.zip", ("store.json", Text(store)), ("../promotions/a.json", Text("{}")));
        Zip("bomb.zip", ("store.json", Text(store)), ("items.csv", to =>
            {
                to.Write("sku,regular\n"u8);
                var row = System.Text.Encoding.UTF8.GetBytes(new string(' ', 1 << 20));
                for (var part = 0; part < 2_500; part++)
                    to.Write(row);
            }));
        Zip("twice.zip", ("store.json", Text(store)), ("items.csv", Text("sku\n")), ("items.csv", Text("sku\n")));
        Zip("none.zip", ("store.json", Text("null")));
        File.WriteAllBytes(In("torn.zip"), [.. File.ReadAllBytes(In("twice.zip")).Take(120)]);
        foreach (var name in (string[])["outside.zip", "bomb.zip", "twice.zip", "none.zip", "torn.zip"])
        {
            var (exit, _, errors) = RunningServer.Run("", "import", In(name), "--data", In($"{name}.db"));
            Assert.True(exit == 1 && errors.Length is > 20 and < 2_000, $"{name}: {errors}");
            Assert.DoesNotContain("   at ", errors, StringComparison.Ordinal);
            Assert.False(File.Exists(In($"{name}.db")), name);
        }
    }

    private static void Same(string one, string other)
    {
        static SortedDictionary<string, string> All(string folder) =>
            new(
                Directory
                    .EnumerateFiles(folder, "*", SearchOption.AllDirectories)
                    .ToDictionary(file => Path.GetRelativePath(folder, file), File.ReadAllText),
                StringComparer.Ordinal
            );
        var (left, right) = (All(one), All(other));
        Assert.Equal(left.Keys, right.Keys);
        foreach (var (path, text) in left)
            Assert.Equal(text, right[path]);
    }
}
