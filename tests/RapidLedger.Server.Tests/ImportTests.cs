using System.IO.Compression;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using RapidLedger.Tests;

namespace RapidLedger.Server.Tests;

/// <summary>
/// Files that other programs wrote: whatever they are written in, the same list makes the same shop. SheetJS (npm) writes the spreadsheets,
/// Python's csv module the dialects, iconv the encodings, gzip and zip what is packed.
/// </summary>
public sealed class ImportTests
{
    private readonly string folder = Directory.CreateTempSubdirectory("import-").FullName;

    // Heading by heading in German and English, with umlauts, quotes, dividers and line ends inside cells.
    private static readonly string[][] Rows =
    [
        [
            "Artikelnummer",
            "product",
            "Bezeichnung",
            "Kategorie",
            "Marke",
            "Größe",
            "Verkaufspreis",
            "sale price",
            "EK",
            "Bestand",
            "regular GBP",
            "note",
        ],
        ["X-1", "x", "Zelt „Fjäll“; groß, grün", "Zelte > Für zwei", "Ödland", "L", "1.299,50", "999,00", "640,10", "12", "1.050,00", "a"],
        ["X-2", "x", "", "", "", "M", "1.199,00", "", "600,00", "", "", "two\nlines"],
        ["00042", "", "Becher \"Emaille\"", "Kochen", "", "", "9,90", "", "", "0", "8,50", ""],
    ];

    [Fact]
    public async Task One_list_is_the_same_goods_in_whatever_it_is_written()
    {
        var own = OwnShop.Of("EUR");
        var wanted = await Goods(own, await Written("list.csv", Csv(",")));
        Assert.Equal(
            [
                "X-1 Zelt „Fjäll“; groß, grün (Größe=L) Für zwei Ödland 1299.5 999 640.1 12 1050",
                "X-2 Zelt „Fjäll“; groß, grün (Größe=M) Für zwei Ödland 1199  600  ",
                "00042 Becher \"Emaille\" () Kochen  9.9   0 8.5",
            ],
            wanted
        );
        // Dividers, quoting and line ends, by Python's csv module.
        foreach (
            var (delimiter, quoting, end) in new[]
            {
                (";", "QUOTE_ALL", "\\r\\n"),
                ("\\t", "QUOTE_MINIMAL", "\\n"),
                ("|", "QUOTE_NONNUMERIC", "\\r\\n"),
            }
        )
            Assert.Equal(
                wanted,
                await Goods(
                    own,
                    Made(
                        "dialect.txt",
                        $"python3 -c \"import csv,json,sys; csv.writer(open(sys.argv[1],'w',newline='',encoding='utf-8'),delimiter='{delimiter}',quoting=csv.{quoting},lineterminator='{end}').writerows(json.load(sys.stdin))\" $FILE",
                        JsonSerializer.Serialize(Rows)
                    )
                )
            );
        // Encodings, by iconv.
        var plain = await Written("utf8.csv", Csv(";"));
        foreach (var encoding in (string[])["UTF-16", "UTF-16LE", "WINDOWS-1252"])
            Assert.Equal(wanted, await Goods(own, Made("encoded.csv", $"iconv -f UTF-8 -t {encoding} {plain} > $FILE", "")));
        Assert.Equal(wanted, await Goods(own, await Written("mark.csv", "\uFEFF" + Csv(","))));
        // A spreadsheet, its numbers as numbers, on its second sheet there is something else.
        var sheet = JsonSerializer.Serialize(
            new object[]
            {
                new object[] { "Liste", Rows.Select((row, line) => row.Select((cell, column) => Cell(cell, line, column))) },
                new object[] { "Notizen", new[] { new[] { "nichts" } } },
            }
        );
        var book = Made("list.xlsx", $"cd {RunningServer.Root}/tests/references && node sheet.mjs $FILE", sheet);
        Assert.Equal(wanted, await Goods(own, book));
        // The form is told from what is in it, not from its name; packed, too.
        File.Copy(book, Path.Combine(folder, "a-spreadsheet.csv"));
        Assert.Equal(wanted, await Goods(own, Path.Combine(folder, "a-spreadsheet.csv")));
        Assert.Equal(wanted, await Goods(own, Made("list.csv.gz", $"gzip -c {plain} > $FILE", "")));
        using (var zip = ZipFile.Open(Path.Combine(folder, "list.zip"), ZipArchiveMode.Create))
            zip.CreateEntryFromFile(plain, "inside/list.csv");
        Assert.Equal(wanted, await Goods(own, Path.Combine(folder, "list.zip")));
        // JSON lines, as a shop's server writes them.
        Assert.Equal(
            wanted,
            await Goods(
                own,
                await Written(
                    "list.jsonl",
                    """
                    {"sku": "X-1", "product": "x", "name": "Zelt „Fjäll“; groß, grün", "category": ["Zelte", "Für zwei"], "brand": "Ödland", "options": {"Größe": "L"}, "regular": "1299.5", "price": "999", "cost": "640.1", "stock": 12, "prices": {"GBP": {"regular": "1050"}}}
                    {"sku": "X-2", "product": "x", "options": {"Größe": "M"}, "regular": "1199", "cost": "600"}
                    {"sku": "00042", "name": "Becher \"Emaille\"", "category": ["Kochen"], "regular": "9.9", "stock": 0, "prices": {"GBP": {"regular": "8.5"}}}
                    """
                )
            )
        );
    }

    [Fact]
    public async Task What_a_file_would_do_is_seen_before_it_is_written_and_what_it_did_is_taken_back()
    {
        var own = OwnShop.Of("EUR");
        await using var server = await own.Serve();
        await Store.PutLive(
            server,
            """{"name": "Club", "label": "Half", "rewards": [{"kind": "discount", "on": {"in": [{"sku": "A"}]}, "take": {"percent": 40}, "per": "unit"}]}"""
        );
        var (_, look) = await Bring(server, "sku;Preis;EK\nA;1.234;\nB;2,50;9,00\nN;5,00;1,00\n");
        // 1.234 is a price of a thousand and some, or of one and some: with commas beside it, the first.
        Assert.Equal(["sku", "regular", "cost"], look!["columns"]!.AsArray().Select(column => (string)column!["field"]!));
        Assert.Equal((1, 2, 0, 2), Counts(look));
        Assert.Contains("A regular 19.99 1234", Largest(look));
        Assert.Contains("B would be sold at €2.50, below what it costs.", Effects(look));
        Assert.Single(Effects(look));
        // Another brings one meanwhile, and waits.
        var (status, waits) = await Bring(server, "sku,regular\nZ,1.00\n");
        Assert.Equal((409, "list.csv is being brought in. Write it or let it go first."), (status, (string)waits!["detail"]!));
        var id = (string)look["id"]!;
        // A column is another one, or none.
        (_, look) = await server.Send(HttpMethod.Post, $"/api/imports/{id}/look", new { fields = new[] { "sku", "regular", "" } });
        Assert.Equal((1, 2, 0, 2), Counts(look!));
        Assert.Single(look!["look"]!["members"]!.AsArray());
        // More than a tenth is taken out only by its number.
        (status, _) = await server.Send(HttpMethod.Post, $"/api/imports/{id}/write", new { takeOut = true });
        Assert.Equal(422, status);
        (status, _) = await server.Send(HttpMethod.Post, $"/api/imports/{id}/write", new { takeOut = true, confirmed = 2 });
        Assert.Equal(202, status);
        var done = await Done(server);
        Assert.Equal("done", (string)done["state"]!);
        Assert.Equal(["A 1234.00", "B 2.50", "N 5.00"], await Prices(server));
        // The next list with these headings is read as this one was.
        (_, look) = await Bring(server, "sku;Preis;EK\nA;1234,00;\n");
        Assert.Equal(["sku", "regular", ""], look!["columns"]!.AsArray().Select(column => (string)column!["field"]!));
        await server.Send(HttpMethod.Delete, $"/api/imports/{look["id"]}");
        // Somebody writes one of them; all else is what it was, what came in is out again, and what stays is told.
        await server.Send(HttpMethod.Post, "/api/goods", new { items = new[] { new { sku = "B", regular = "3.00" } } });
        (_, var back) = await server.Send(HttpMethod.Post, $"/api/goods/steps/{done["step"]}/back");
        Assert.Equal(["variant B regular"], back!["kept"]!.AsArray().Select(one => $"{one!["kind"]} {one["id"]} {one["member"]}"));
        Assert.Equal(["A 19.99", "B 3.00", "C 7.01", "G 4.50"], await Prices(server));
        (status, _) = await server.Send(HttpMethod.Post, $"/api/goods/steps/{done["step"]}/back");
        Assert.Equal(404, status);
        // An item says what changed of it, and what by; one that nothing changed says nothing.
        var changes = (await server.Get("/api/goods/items/B"))["changes"]!.AsArray();
        Assert.Equal(["1 changed", "list.csv: 3 items"], changes.Select(change => (string)change!["what"]!));
        Assert.Equal("Club", (string)(await server.Get("/api/goods/items/A"))["promotions"]![0]!["name"]!);
        // The history says who did what.
        Assert.Equal(
            ["here taken back: list.csv: 3 items", "here 1 changed", "from list.csv list.csv: 3 items"],
            (await server.Get("/api/goods/steps")).AsArray().Select(step => $"{step!["by"]} {step["what"]}")
        );
    }

    [Fact]
    public async Task Options_stay_where_the_file_has_no_column_for_them_and_a_small_margin_is_no_loss()
    {
        var own = OwnShop.Of("KWD");
        await using var server = await own.Serve();
        using var shop = new Store(server, Store.NewKey(server, "server"));
        await shop.Put("items", """{"sku": "A", "options": {"colour": "moss", "size": "M"}}""");
        await Write("sku,option size\nA,L\n");
        Assert.Equal(["L", "moss"], await Options());
        // An empty cell of a column that is there empties it; a column of all options replaces them.
        await Write("sku,option size\nA,\n");
        Assert.Equal(["moss"], await Options());
        await Write("sku,options\nA,size=S\n");
        Assert.Equal(["S"], await Options());

        // Half a percent is kept where there is no floor: nothing to say.
        var (_, look) = await Bring(server, "sku,regular,cost\nB,20.5,20.4\nC,20.5,20.6\n");
        Assert.Equal(["KWD 20.500"], Effects(look!).Select(said => said.Replace('\u00a0', ' ').Split(" at ")[1].Split(',')[0]));
        // So many rows are shown as they will be read.
        await server.Send(HttpMethod.Delete, $"/api/imports/{look!["id"]}");
        (_, look) = await Bring(server, "sku,regular\n" + string.Concat(Enumerable.Range(0, 30).Select(number => $"N{number},1\n")));
        Assert.Equal(20, look!["first"]!.AsArray().Count);

        async Task Write(string csv)
        {
            var (_, state) = await Bring(server, csv);
            Assert.Equal(202, (await server.Send(HttpMethod.Post, $"/api/imports/{state!["id"]}/write", new { })).Status);
            await Done(server);
        }

        async Task<string[]> Options() =>
            [
                .. (await shop.Get("items"))["items"]!.AsArray().Single(item => (string)item!["sku"]! == "A")!["options"]!
                    .AsObject()
                    .Select(option => (string)option.Value!)
                    .Order(StringComparer.Ordinal),
            ];
    }

    [Fact]
    public async Task Settings_hold_from_the_next_price_on_in_every_process_and_are_taken_back()
    {
        var own = OwnShop.Of("AUD");
        await using var server = await own.Serve();
        await using var other = await RunningServer.Start(demo: false, data: server.Data);
        await Store.PutLive(
            server,
            Documents
                .Tubes("ADDED")
                .With("rewards", """[{"kind": "discount", "on": {"in": [{"all": true}]}, "take": {"percent": 10}, "per": "unit"}]""")
                .ToJsonString()
        );
        async Task<(string, string?, decimal?, string)> Says(RunningServer of)
        {
            var shop = await of.Get("/api/shop");
            return (
                (string)shop["name"]!,
                (string?)shop["link"],
                (decimal?)shop["marginFloor"],
                (string)(await of.Get("/api/codes/story?code=ADDED"))["link"]!
            );
        }

        Assert.Equal(("Own AUD", null, null, "/counter?code=ADDED"), await Says(server));
        Assert.Empty((await server.Get("/api/goods/items/G"))["changes"]!.AsArray());
        var (status, written) = await server.Send(
            HttpMethod.Post,
            "/api/settings",
            new { settings = new { name = "Outback", link = "https://outback.example/?c={code}" }, store = new { marginFloor = 12.5 } }
        );
        Assert.Equal(200, status);
        var now = ("Outback", "https://outback.example/?c=ADDED", 12.5m);
        Assert.Equal(("Outback", "https://outback.example/?c={code}", 12.5m, "https://outback.example/?c=ADDED"), await Says(server));
        using var patience = new CancellationTokenSource(TimeSpan.FromSeconds(30));
        while (await Says(other) is var (name, _, _, link) && (name, link) != (now.Item1, now.Item2))
            await Task.Delay(50, patience.Token);
        // What was live is live, read under the settings of now.
        Assert.Equal(1, (int)(await other.Get("/readyz"))["edition"]!);
        foreach (
            var wrong in (object[])
                [
                    new { settings = new { link = "https://outback.example/" } },
                    new { settings = new { link = "ftp://x/{code}" } },
                    new { settings = new { name = " " } },
                    new { settings = new { nome = "x" } },
                    new { store = new { marginFloor = 101 } },
                    new { nome = "x" },
                ]
        )
            Assert.InRange((await server.Send(HttpMethod.Post, "/api/settings", wrong)).Status, 400, 422);
        await server.Send(HttpMethod.Post, $"/api/goods/steps/{written!["step"]}/back");
        Assert.Equal(("Own AUD", null, null, "/counter?code=ADDED"), await Says(server));
        // What is written while something is being read is followed too, although nobody writes any more.
        for (var number = 1; number <= 15; number++)
        {
            await server.Send(HttpMethod.Post, "/api/goods", new { items = new[] { new { sku = "A", regular = $"{number}.00" } } });
            await server.Send(HttpMethod.Post, "/api/settings", new { settings = new { name = $"Outback {number}" } });
        }

        while (((string)(await other.Get("/api/shop"))["name"]!, (await Prices(other))[0]) != ("Outback 15", "A 15.00"))
            await Task.Delay(50, patience.Token);
        await server.Send(HttpMethod.Post, "/api/settings", new { settings = new { name = "Own AUD" } });
        await server.Send(HttpMethod.Post, "/api/settings", new { store = new { marginFloor = 3 } });
        await server.Send(HttpMethod.Post, "/api/settings", new { store = new { marginFloor = (decimal?)null } });
        Assert.Equal(("Own AUD", null, null, "/counter?code=ADDED"), await Says(server));
    }

    [Fact]
    public async Task What_reads_either_way_is_asked_and_bad_rows_are_all_told()
    {
        var own = OwnShop.Of("KWD");
        await using var server = await own.Serve();
        var (_, look) = await Bring(server, "sku,regular,stock\nN1,1.234,5\nN2,2.500,6\n");
        Assert.Equal(
            ["'1.234' under regular reads either way. Say how it is meant."],
            look!["open"]!.AsArray().Select(one => (string)one!)
        );
        Assert.Equal(
            ("1.234", "1234"),
            ((string)look["columns"]![1]!["readings"]![0]!["reads"]!, (string)look["columns"]![1]!["readings"]![1]!["reads"]!)
        );
        (_, look) = await server.Send(HttpMethod.Post, $"/api/imports/{look["id"]}/look", new { marks = new[] { "", "point", "" } });
        await server.Send(HttpMethod.Post, $"/api/imports/{look!["id"]}/write", new { });
        await Done(server);
        Assert.Contains("N1 1.234", await Prices(server));

        (_, look) = await Bring(
            server,
            "sku,price,regular,stock,category,name\n4.00638E+12,,1.5,1,,\nA,,2.5 USD,1,,\nB,9.75,8.25,x,,\n,,1.0,,,\nN3,,,2,,\nN4,,1.00001,-4,,\nN1,,1.5,,,\nN1,,1.5,,,\n"
        );
        Assert.Equal(
            [
                "2 sku wrongType",
                "3 regular unknownCurrency",
                "4 stock notAnInteger",
                "5 sku missing",
                "6 regular missing",
                "7 stock outOfRange",
                "8 name missing",
                "9 sku duplicate",
            ],
            look!["look"]!["bad"]!.AsArray().Select(bad => $"{bad!["line"]} {bad["member"]} {bad["code"]}")
        );
        var (status, refused) = await server.Send(HttpMethod.Post, $"/api/imports/{look["id"]}/write", new { });
        Assert.Equal(422, status);
        Assert.StartsWith("8 things in the file are wrong.", (string)refused!["detail"]!, StringComparison.Ordinal);
        var mend = await server.Http.GetStringAsync(new Uri($"/api/imports/{look["id"]}/bad.csv", UriKind.Relative));
        Assert.StartsWith("row,column,what is wrong\n2,\"sku\",\"A spreadsheet has shortened", mend, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Hostile_files_get_a_clear_answer_and_change_nothing()
    {
        var own = OwnShop.Of("EUR");
        var data = await own.File();
        var before = Export(data);
        (string Name, string Command, string Said)[] hostile =
        [
            ("empty.csv", "true > $FILE", "The file is empty."),
            ("line.csv", "(printf 'sku,regular\\nA,'; head -c 30000000 /dev/zero | tr '\\0' '7') > $FILE", "is longer than"),
            ("columns.csv", "(printf 'sku'; yes ',x' | head -n 5000 | tr -d '\\n'; echo) > $FILE", "more than 1000 columns"),
            ("quote.csv", "(printf 'sku,regular\\nA,\"1.00\\n'; yes 'B,2.00' | head -n 400000) > $FILE", "never closed"),
            ("nulls.csv", "printf 'sku,regular\\nA\\0,1.00\\n' > $FILE", "characters that no list holds"),
            ("damaged.xlsx", "(printf 'PK\\3\\4'; head -c 5000 /dev/urandom) > $FILE", "damaged"),
            ("damaged.gz", "(printf '\\37\\213'; head -c 5000 /dev/urandom) > $FILE", "damaged"),
            ("bomb.gz", "head -c 600000000 /dev/zero | gzip -1 > $FILE", "larger than"),
            ("old.xls", "(printf '\\320\\317\\21\\340'; head -c 100 /dev/zero) > $FILE", ".xlsx"),
            ("heading.csv", "echo 'only,a,heading' > $FILE", "No column is the SKU"),
            ("price.csv", "printf 'sku,regular\\nA,100000000000000000000\\n' > $FILE", "more than can be handled"),
            ("formula.csv", "printf 'sku,regular\\nA,=1+1\\n' > $FILE", "'=1+1' is not an amount"),
            ("twice.csv", "printf 'sku,regular\\nA,1.00\\nA,2.00\\n' > $FILE", "stands in line 2 already"),
            ("lines.jsonl", "printf '{\"sku\": \"A\", \"sku\": \"B\"}\\n{\"sku\": [1]}\\n[]\\n' > $FILE", "row 1"),
        ];
        foreach (var (name, command, said) in hostile)
        {
            var (exit, _, errors) = RunningServer.Run("", "import", Made(name, command, ""), "--data", data, "--what", "goods");
            Assert.True(
                exit == 1 && errors.Contains(said, StringComparison.Ordinal),
                $"{name}: {exit} {errors[..Math.Min(300, errors.Length)]}"
            );
            Assert.EndsWith("Nothing was written.\n", errors, StringComparison.Ordinal);
        }

        using (var zip = ZipFile.Open(Path.Combine(folder, "two.zip"), ZipArchiveMode.Create))
            foreach (var name in (string[])["../../outside.csv", "b.csv"])
                zip.CreateEntry(name);
        Assert.Contains("One file is expected", RunningServer.Run("", "import", Path.Combine(folder, "two.zip"), "--data", data).Errors);
        Assert.Equal(before, Export(data));
        Assert.Contains(
            "There is no store at",
            RunningServer.Run("", "import", Path.Combine(folder, "twice.csv"), "--data", "/none/x.db").Errors
        );
    }

    [Fact]
    public async Task A_crash_while_a_list_is_written_leaves_all_of_it_or_nothing()
    {
        var own = OwnShop.Of("EUR");
        const int Many = 6_000;
        var list = await Written(
            "many.csv",
            $"sku,regular\n{string.Join('\n', Enumerable.Range(0, Many).Select(number => $"M{number},{number % 90 + 1}.00"))}\n"
        );
        await using var server = await own.ServeShipped();
        var whole = 0;
        for (var time = 0; time < 4; time++)
        {
            using var content = new StreamContent(File.OpenRead(list));
            var brought = await server.Http.PostAsync(new Uri("/api/imports?name=many.csv", UriKind.Relative), content);
            var id = (string)JsonNode.Parse(await brought.Content.ReadAsStringAsync())!["id"]!;
            await server.Send(HttpMethod.Post, $"/api/imports/{id}/write", new { });
            // From before the first piece to behind the last.
            await Task.Delay(time * 250);
            server.Kill();
            await server.StartAgain();
            var items = (int)(await server.Get("/api/goods?take=1"))["all"]!;
            Assert.True(items is 4 or 4 + Many, $"{items} items");
            whole += items == 4 ? 0 : 1;
            Assert.Equal(items == 4 ? 0 : 1, (await server.Get("/api/goods/steps")).AsArray().Count);
            if (items != 4)
                break;
        }

        TestContext.Current.TestOutputHelper?.WriteLine($"{whole} came through");
        Assert.Equal(0, RunningServer.Run("", "check-store", server.Data).Exit);
    }

    internal static async Task<(int Status, JsonNode? Body)> Bring(RunningServer server, string csv)
    {
        using var content = new StringContent(csv, Encoding.UTF8, "application/octet-stream");
        using var response = await server.Http.PostAsync(new Uri("/api/imports?name=list.csv", UriKind.Relative), content);
        return ((int)response.StatusCode, JsonNode.Parse(await response.Content.ReadAsStringAsync()));
    }

    internal static async Task<JsonNode> Done(RunningServer server)
    {
        while (true)
        {
            var state = await server.Get("/api/imports");
            if ((string)state["state"]! == "looked")
                Assert.Fail($"It is not being written: {state["look"]?["bad"]} {state["open"]}");
            if ((string)state["state"]! != "writing")
                return state;
            await Task.Delay(30);
        }
    }

    private static (int New, int Changed, int Same, int Missing) Counts(JsonNode state)
    {
        var look = state["look"]!;
        return ((int)look["new"]!, (int)look["changed"]!, (int)look["same"]!, (int)look["missing"]!);
    }

    private static IEnumerable<string> Largest(JsonNode state) =>
        state["look"]!["largest"]!.AsArray().Select(one => $"{one!["id"]} {one["member"]} {one["from"]} {one["to"]}");

    private static IEnumerable<string> Effects(JsonNode state) =>
        state["look"]!["promotions"]!.AsArray().Select(one => (string)one!["what"]!);

    private static async Task<string[]> Prices(RunningServer server) =>
        [.. (await server.Get("/api/goods"))["items"]!.AsArray().Select(item => $"{item!["sku"]} {item["regular"]}")];

    private static string Export(string data)
    {
        using var database = new Storage.Database(data);
        return JsonSerializer.Serialize(new Storage.ShopRepository(database).Find()!.Goods);
    }

    // What a file makes of a shop, beside what that had.
    private static async Task<string[]> Goods(OwnShop own, string file)
    {
        var data = await own.File();
        var (exit, _, errors) = RunningServer.Run("", "import", file, "--data", data);
        Assert.True(exit == 0, $"{file}: {errors}");
        using var database = new Storage.Database(data);
        var goods = new Storage.ShopRepository(database).Find()!.Goods;
        JsonNode Document(string kind, string id) => JsonNode.Parse(goods.Single(row => row.Kind == kind && row.Id == id).Document)!;
        return
        [
            .. ((string[])["X-1", "X-2", "00042"]).Select(sku =>
            {
                var (variant, product) = (
                    Document("variant", sku),
                    Document("product", goods.Single(row => row.Id == sku && row.Kind == "variant").Product!)
                );
                var category = Document("category", (string)product["category"]!);
                // Options by their values: one writes none where another writes an empty list.
                var options = string.Join(',', variant["options"]?.AsObject().Select(option => $"{option.Key}={option.Value}") ?? []);
                return $"{sku} {product["name"]} ({options}) {category["name"]} {product["brand"]} {variant["regular"]} {variant["price"]} {variant["cost"]} {variant["stock"]} {variant["prices"]?["GBP"]?["regular"]}";
            }),
        ];
    }

    private async Task<string> Written(string name, string text)
    {
        var path = Path.Combine(folder, name);
        await File.WriteAllTextAsync(path, text, new UTF8Encoding(false));
        return path;
    }

    private string Made(string name, string command, string input)
    {
        var path = Path.Combine(folder, name);
        var (exit, _, errors) = RunningServer.Shell(command.Replace("$FILE", path, StringComparison.Ordinal), input);
        return exit == 0 ? path : throw new InvalidOperationException(errors);
    }

    private static string Csv(string divider) =>
        string.Concat(
            Rows.Select(row =>
                string.Join(divider, row.Select(cell => $"\"{cell.Replace("\"", "\"\"", StringComparison.Ordinal)}\"")) + "\n"
            )
        );

    // As a spreadsheet keeps it: prices as numbers, the SKU as text.
    private static object Cell(string cell, int line, int column) =>
        line > 0 && column is >= 6 and <= 10 && cell.Length > 0
            ? decimal.Parse(cell, System.Globalization.CultureInfo.GetCultureInfo("de-DE"))
            : cell;
}
