using System.Globalization;
using System.Numerics;
using System.Text.Json.Nodes;
using Microsoft.Data.Sqlite;
using RapidLedger.Tests;

namespace RapidLedger.Server.Tests;

/// <summary>
/// What promotions brought, against a plain recount from the orders as the shop was told of them: with fractions, order by order, and by
/// nothing that the product adds up by.
/// </summary>
public sealed class TakingsTests
{
    private static readonly string[] Figures =
    [
        "orders",
        "units",
        "takings",
        "given",
        "givenDelivery",
        "givenWithoutTax",
        "paid",
        "margin",
        "marginOf",
        "averageOrder",
        "newShoppers",
    ];

    [Theory]
    [MemberData(nameof(OwnShop.Currencies), MemberType = typeof(OwnShop))]
    public async Task Every_figure_is_a_plain_recount_of_the_orders(string currency)
    {
        var own = OwnShop.Of(currency);
        // Around a midnight and a change of the clocks, in the shop's zone as it is then.
        var clocks = Clocks(own.Zone);
        await using var server = await RunningServer.Start(demo: false, data: await own.File(), clock: clocks[0]);
        var promotions = new Dictionary<string, string>();
        using (var store = new Store(server, Store.NewKey(server, "server")))
        {
            foreach (var (name, document) in Rules(own))
                promotions[name] = await Store.PutLive(server, document);
            // Of one item nobody knows what it costs.
            await store.Put("items", """{"sku": "C", "cost": null}""");
        }

        var (random, orders) = (new Random(currency[0]), new List<(string Id, JsonObject Cart)>());
        foreach (var clock in clocks)
        {
            await server.Stop();
            await server.StartAgain(clock);
            using var store = new Store(server, Store.NewKey(server, "server"));
            for (var number = 0; number < 14; number++)
                await Something(random, own, store, orders, promotions["gift"]);
        }

        // What is held lapses in time; one is held still.
        await server.Stop();
        await server.StartAgain(clocks[^1]);
        var told = new List<Told>();
        foreach (var (id, cart) in orders)
            told.Add(Told.Of(await server.Get($"/api/orders/{id}"), cart, own, promotions["again"]));
        var known = new HashSet<string> { "s1" };
        foreach (var order in told.OrderBy(order => order.Change0))
            order.IsNew = order.Shopper is { } shopper && !shopper.StartsWith("guest", StringComparison.Ordinal) && known.Add(shopper);

        foreach (var byDay in new[] { false, true })
        {
            var csv = (
                await server.Http.GetStringAsync(new Uri($"/api/takings.csv?from=2025-01-01&to=2028-01-01&byDay={byDay}", UriKind.Relative))
            )
                .Split('\n', StringSplitOptions.RemoveEmptyEntries)
                .Select(row => row.Split(','))
                .ToArray();
            var compared = 0;
            foreach (var row in csv.Skip(1))
            {
                var (day, name) = byDay ? (row[0], row[1]) : (null, row[0]);
                var expected = Recount(told.Where(order => order.State == "taken" && (day is null || order.Day == day)), name, own);
                foreach (var figure in Figures)
                    Assert.Equal((day, name, figure, expected[figure]), (day, name, figure, row[Array.IndexOf(csv[0], figure)]));
                compared += row[^1] == "0" && expected["orders"] == "0" ? 0 : 1;
            }

            // Nothing is missing from it either.
            Assert.True(compared > promotions.Count, $"{compared} rows");
            Assert.All(promotions.Values.Append("*").Append("-"), name => Assert.Contains(csv, row => row[byDay ? 1 : 0] == name));
        }

        Assert.Equal((0, "All counters agree with what they count.\n", ""), RunningServer.Run("", "check-store", server.Data));
        var (exit, output, _) = RunningServer.Run(
            "",
            "takings",
            "--data",
            server.Data,
            "--from",
            "2025-01-01",
            "--to",
            "2028-01-01",
            "--csv"
        );
        Assert.Equal(
            (0, await server.Http.GetStringAsync(new Uri("/api/takings.csv?from=2025-01-01&to=2028-01-01", UriKind.Relative))),
            (exit, output)
        );
        await Parts(server, [.. promotions.Values, "*", "-"], own);
        await Behind(server);
        // Once each: without tax and with it there is nothing more to see.
        if (own.Tax == "inclusive")
            await Older(server, own);
        if (own.Currency == "AUD")
            await Damage(server);
    }

    // Behind each count stand just so many orders, of each day and of several.
    private static async Task Behind(RunningServer server)
    {
        string[] days =
        [
            .. (await server.Http.GetStringAsync(new Uri("/api/takings.csv?from=2025-01-01&to=2028-01-01&byDay=true", UriKind.Relative)))
                .Split('\n', StringSplitOptions.RemoveEmptyEntries)
                .Skip(1)
                .Select(line => line.Split(',')[0])
                .Distinct(),
        ];
        var compared = 0;
        foreach (
            var (from, to) in days.Where((_, place) => place % 5 == 0)
                .Select(day => (day, day))
                .Append((days[0], days[^1]))
                .Append((days[days.Length / 2], "2028-01-01"))
        )
        {
            var table = await server.Get($"/api/takings?from={from}&to={to}");
            foreach (var row in table["rows"]!.AsArray().Append(null))
            {
                var promotion = row is null ? "" : Uri.EscapeDataString((string)row["id"]!);
                var count = (long)(row?["now"] ?? table["all"])!["orders"]!;
                Assert.Equal((from, to, promotion, count), (from, to, promotion, await Orders(promotion)));
                compared += count > 0 ? 1 : 0;
            }

            async Task<long> Orders(string promotion)
            {
                var found = 0L;
                long? before = null;
                while (true)
                {
                    var page = await server.Get(
                        $"/api/orders?state=taken&promotion={promotion}&from={from}&to={to}{(before is { } at ? $"&before={at}" : "")}"
                    );
                    var orders = page["orders"]!.AsArray();
                    found += orders.Count;
                    if (!(bool)page["hasMore"]!)
                        return found;
                    before = (long)orders[^1]!["change"]!;
                }
            }
        }

        Assert.True(compared > 5, $"{compared} figures");
        Assert.Equal(400, (await server.Send(HttpMethod.Get, "/api/orders?from=yesterday")).Status / 100 * 100);
    }

    // The short tables are added up behind: what stands in them is all there is, and nothing twice.
    private static async Task Parts(RunningServer server, string[] names, OwnShop own)
    {
        foreach (var name in names)
        {
            JsonNode page;
            while (
                (bool)(page = await server.Get($"/api/takings/of/{Uri.EscapeDataString(name)}?from=2025-01-01&to=2028-01-01"))["isBehind"]!
            )
                await Task.Delay(50);
            var figures = page["figures"]!;
            long Sum(string by, string figure) =>
                page["tables"]!
                    .AsArray()
                    .Where(table => (string)table!["by"]! == by)
                    .SelectMany(table => table!["parts"]!.AsArray())
                    .Sum(part =>
                        part!["figures"]![figure] is JsonValue value && value.TryGetValue<long>(out var count)
                            ? count
                            : own.Minor(part["figures"]![figure]!, own.Currency)
                    );
            Assert.Equal((name, (long)figures["orders"]!), (name, Sum("place", "orders")));
            Assert.Equal((name, own.Minor(figures["takings"]!, own.Currency)), (name, Sum("place", "takings")));
            if (name is not "-")
                Assert.Equal((name, own.Minor(figures["given"]!, own.Currency)), (name, Sum("item", "given")));
            if (name is "*" or "-")
                Assert.Equal((name, own.Minor(figures["takings"]!, own.Currency)), (name, Sum("item", "takings")));
            // Bars and figures are the same sums.
            Assert.Equal(
                own.Minor(figures["takings"]!, own.Currency),
                page["bars"]!.AsArray().Sum(bar => own.Minor(bar!["takings"]!, own.Currency))
            );
        }
    }

    // Orders that were placed before figures were kept: takings from their taxes, cost unknown.
    private static async Task Older(RunningServer server, OwnShop own)
    {
        var before = (await server.Get("/api/takings?from=2025-01-01&to=2028-01-01"))["all"]!;
        await server.Stop();
        var copy = Copied(server.Data, "older");
        using (var connection = new SqliteConnection($"Data Source={copy};Pooling=False"))
        {
            connection.Open();
            using var command = connection.CreateCommand();
            command.CommandText =
                "DELETE FROM order_figures; DELETE FROM takings_days; DELETE FROM takings_parts; DELETE FROM takings_added";
            command.ExecuteNonQuery();
        }

        await using var older = await RunningServer.Start(demo: false, data: copy);
        // It is done behind what the server answers.
        while ((long)(await older.Get("/api/takings?from=2025-01-01&to=2028-01-01"))["all"]!["orders"]! < (long)before["orders"]!)
            await Task.Delay(50);
        var after = (await older.Get("/api/takings?from=2025-01-01&to=2028-01-01"))["all"]!;
        Assert.Equal((long)before["orders"]!, (long)after["orders"]!);
        Assert.Null(after["margin"]);
        // The tax of an order is rounded with that of its delivery, and so may be off by a minor unit of its currency: by a penny, which is
        // a dozen pesos.
        Assert.InRange(
            own.Minor(after["takings"]!, own.Currency) - own.Minor(before["takings"]!, own.Currency),
            -13 * (long)before["orders"]!,
            13 * (long)before["orders"]!
        );
        Assert.InRange(own.Minor(after["given"]!, own.Currency) - own.Minor(before["given"]!, own.Currency), -100, 100);
        Assert.Equal(0, RunningServer.Run("", "check-store", copy).Exit);
        await server.StartAgain();
    }

    [Fact]
    public async Task Orders_from_before_count_where_that_is_asked_for_by_the_codes_they_name()
    {
        var own = OwnShop.Of("EUR");
        await using var server = await own.Serve();
        var id = await Store.PutLive(server, Rules(own)["coded"]);
        var (_, state) = await ImportTests.Bring(
            server,
            "order,at,sku,quantity,paid,code,place\nP1,2026-11-01,A,2,23.80,two,DE\nP1,2026-11-01,X,1,1.00,,\nP2,2026-11-02,B,1,10.70,,DE\nP3,2026-11-02,A,1,11.90,NOBODYS,\n"
        );
        await server.Send(HttpMethod.Post, $"/api/imports/{state!["id"]}/write", new { });
        await ImportTests.Done(server);
        async Task<string[]> Rows(string more) =>
            [
                .. (await server.Http.GetStringAsync(new Uri($"/api/takings.csv?from=2026-11-01&to=2026-11-30{more}", UriKind.Relative)))
                    .Split('\n', StringSplitOptions.RemoveEmptyEntries)
                    .Skip(1)
                    .Select(row => string.Join(' ', row.Split(',')[..5].Append(row.Split(',')[9]))),
            ];
        Assert.Equal(["* 0 0 0.00 0.00 0.00", "- 0 0 0.00 0.00 0.00"], await Rows(""));
        // 23.80 of the class of 19 % in Germany are 20.00, 10.70 of 7 % are 10.00; without a place nothing is known of tax. The cost of X is
        // not known, so P1 has no margin.
        Assert.Equal([$"{id} 1 0 21.00 0.00 0.00", "* 3 5 42.90 0.00 21.90", "- 2 2 21.90 0.00 21.90"], await Rows("&brought=true"));
        Assert.Equal(
            [
                "2026-11-01 * 1 3 21.00",
                "2026-11-01 - 0 0 0.00",
                $"2026-11-01 {id} 1 0 21.00",
                "2026-11-02 * 2 2 21.90",
                "2026-11-02 - 2 2 21.90",
            ],
            (
                await server.Http.GetStringAsync(
                    new Uri("/api/takings.csv?from=2026-11-01&to=2026-11-02&brought=true&byDay=true", UriKind.Relative)
                )
            )
                .Split('\n', StringSplitOptions.RemoveEmptyEntries)
                .Skip(1)
                .Select(row => string.Join(' ', row.Split(',')[..5]))
                .Order(StringComparer.Ordinal)
        );
        // Beside them stand as many days before, or the same dates a year ago.
        foreach (var (beside, first, last) in new[] { ("before", "2026-10-02", "2026-10-31"), ("year", "2025-11-01", "2025-11-30") })
        {
            var compared = await server.Get($"/api/takings?from=2026-11-01&to=2026-11-30&beside={beside}");
            Assert.Equal((first, last), ((string?)compared["beforeFrom"], (string?)compared["beforeTo"]));
        }

        var table = await server.Get("/api/takings?from=2026-11-01&to=2026-11-30");
        Assert.Equal((3, true), ((int)table["brought"]!, (bool)table["isAny"]!));
        Assert.Equal(0, RunningServer.Run("", "check-store", server.Data).Exit);
        await server.Stop();
        Damaged(server.Data, "UPDATE past_days SET takings = takings - 1 WHERE codes <> '[]'");
    }

    private static Dictionary<string, string> Rules(OwnShop own) =>
        new()
        {
            ["coded"] =
                """{"label": "Two", "trigger": {"codes": ["TWO"]}, "rewards": [{"kind": "discount", "on": {"in": [{"all": true}]}, "take": {"percent": 7}, "per": "cart"}]}""",
            ["each"] =
                """{"label": "Each", "when": {"quantity": {"of": {"in": [{"sku": "B"}]}, "op": ">=", "n": 2}}, "rewards": [{"kind": "discount", "on": {"in": [{"sku": "B"}]}, "take": {"percent": 12.5}, "per": "unit"}]}""",
            ["again"] =
                """{"label": "Again", "rewards": [{"kind": "buyGet", "buy": {"of": {"in": [{"sku": "A"}]}, "quantity": 1}, "get": {"of": {"in": [{"sku": "A"}]}, "quantity": 1, "take": {"percent": 40}}, "repeat": "every"}]}""",
            ["marked"] =
                """{"label": "Marked", "rewards": [{"kind": "markdown", "levels": [{"on": {"in": [{"sku": "C"}]}, "take": {"percent": 11}}]}]}""",
            ["gift"] =
                """{"label": "Gift", "when": {"quantity": {"op": ">=", "n": 5}}, "rewards": [{"kind": "gift", "give": {"skus": ["G", "A"]}, "quantity": 1, "take": {"percent": 60}}]}""",
            ["delivered"] =
                $$"""{"label": "Delivered", "when": {"spend": {"from": "{{own.Money(15_000)}}"} }, "rewards": [{"kind": "shipping", "take": {"percent": 50} } ] }""",
            ["card"] =
                $$"""{"label": "Own", "trigger": {"codes": ["OWN"]}, "rewards": [{"kind": "credit", "amount": "{{own.Money(60_000)}}", "keepRest": true}]}""",
            ["points"] = """{"label": "Points", "when": {"shopper": {"is": "signedIn"}}, "rewards": [{"kind": "points", "fixed": 5}]}""",
        };

    private static string[] Clocks(string zone) =>
        zone switch
        {
            "Australia/Adelaide" => ["2026-10-03T23:59:59+09:30", "2026-10-04T00:00:00+09:30", "2026-10-04T12:00:00+10:30"],
            "America/Santiago" => ["2026-09-05T23:59:59-04:00", "2026-09-06T01:00:00-03:00", "2026-09-06T12:00:00-03:00"],
            "Europe/Berlin" => ["2026-10-24T23:59:59+02:00", "2026-10-25T02:30:00+02:00", "2026-10-25T02:30:00+01:00"],
            _ => ["2026-10-24T23:59:59+03:00", "2026-10-25T00:00:00+03:00", "2026-10-25T12:00:00+03:00"],
        };

    private static async Task Something(Random random, OwnShop own, Store store, List<(string Id, JsonObject Cart)> orders, string gift)
    {
        if (orders.Count > 0 && random.Next(3) == 0)
        {
            var id = orders[random.Next(orders.Count)].Id;
            var move = random.Next(3);
            if (move == 0)
                await store.Post($"orders/{id}/take", null, Guid.NewGuid().ToString());
            else
                await store.Post(
                    $"orders/{id}/give-back",
                    move == 1 ? null : new { lines = new[] { new { line = 0, quantity = 1 } } },
                    Guid.NewGuid().ToString()
                );
            return;
        }

        var cart = own.Cart([
            .. new[] { "A", "B", "C" }.Where(_ => random.Next(3) > 0).DefaultIfEmpty("B").Select(sku => (sku, random.Next(1, 5))),
        ]);
        cart["codes"] = new JsonArray([.. new[] { "TWO", "OWN" }.Where(_ => random.Next(3) == 0).Select(code => JsonValue.Create(code))]);
        cart["method"] = "parcel";
        if (random.Next(2) == 0)
            cart["shopper"] = new JsonObject
            {
                ["id"] = (string[])["s1", "s2", "n1", "n2", "n3"] is var ids ? ids[random.Next(ids.Length)] : "",
            };
        else if (random.Next(2) == 0)
            cart["guestKey"] = $"guest {random.Next(3)}";
        if (random.Next(3) == 0)
            cart["currency"] = "GBP";
        // A reduced gift is picked.
        if (random.Next(2) == 0)
            cart["picks"] = new JsonObject { [gift] = new JsonArray(random.Next(2) == 0 ? "G" : "A") };
        var quote = await store.Quote(cart.DeepClone().AsObject());
        var (status, order) = await store.Place(cart, quote, Guid.NewGuid().ToString(), take: random.Next(3) > 0);
        if (status == 201)
            orders.Add(((string)order["id"]!, cart));
        else
            Assert.Equal(409, status);
    }

    // Damage to a copy is found.
    private static void Damaged(string data, string damage)
    {
        var copy = Copied(data, "damaged");
        using (var connection = new SqliteConnection($"Data Source={copy};Pooling=False"))
        {
            connection.Open();
            using var command = connection.CreateCommand();
            command.CommandText = damage;
            Assert.True(command.ExecuteNonQuery() > 0, damage);
        }

        var (exit, output, _) = RunningServer.Run("", "check-store", copy);
        Assert.True(exit == 1, $"{damage}: {output}");
    }

    // With its journal, which may hold what was written last (sqlite.org/wal.html).
    private static string Copied(string data, string name)
    {
        var copy = $"{data}.{name}";
        foreach (var part in (string[])["", "-wal", "-shm"])
            if (File.Exists(data + part))
                File.Copy(data + part, copy + part, overwrite: true);
            else
                File.Delete(copy + part);
        return copy;
    }

    // Each kind of damage is found: a figure by day that differs, one that is not there, one without reason, figures of an order.
    private static async Task Damage(RunningServer server)
    {
        await server.Stop();
        foreach (
            var damage in new[]
            {
                "UPDATE takings_days SET takings = takings + 1 WHERE promotion = '*' AND held = 0",
                "UPDATE takings_days SET cost = cost - 1 WHERE held = 0",
                "DELETE FROM takings_days WHERE promotion = '*'",
                "INSERT INTO takings_days SELECT 'nobody', day, held, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1, 1 FROM takings_days LIMIT 1",
                "DELETE FROM order_figures WHERE order_id = (SELECT min(id) FROM orders WHERE state = 'taken' AND returned IS NULL)",
                "UPDATE order_figures SET fresh = 1 - fresh",
                "UPDATE order_figures SET document = json_set(document, '$[0][0][7]', 7777) WHERE json_array_length(document, '$[0][0]') > 5",
            }
        )
            Damaged(server.Data, damage);
    }

    private static Dictionary<string, string> Recount(IEnumerable<Told> orders, string name, OwnShop own)
    {
        var (count, units, takings, given, delivery, untaxed, paid, cost, marginOf, fresh) = (0L, 0L, 0L, 0L, 0L, 0L, 0L, 0L, 0L, 0L);
        foreach (var order in orders.Where(order => order.Has(name)))
        {
            if (order.Lines.All(line => line.Back >= line.Quantity))
                continue;
            count++;
            units += order.Lines.Sum(line =>
                name is "*" or "-" ? line.Quantity - line.Back : line.Left(line.Lowered.GetValueOrDefault(name))
            );
            fresh += order.IsNew ? 1 : 0;
            var net = order.Lines.Sum(line => line.Left(line.NetInBase));
            takings += net;
            if (order.Lines.All(line => line.Cost is not null))
            {
                marginOf += net;
                cost += order.Lines.Sum(line => line.Left(line.Cost!.Value));
            }

            foreach (var line in order.Lines)
            foreach (var (promotion, (inBase, without)) in line.Given.Where(part => part.Key == name || name == "*"))
            {
                given += line.Left(inBase);
                untaxed += line.Left(without);
            }

            delivery += order.Delivery.Where(part => part.Key == name || name == "*").Sum(part => part.Value);
            paid += order.Paid.Where(part => part.Key == name || name == "*").Sum(part => part.Value);
        }

        return new()
        {
            ["orders"] = $"{count}",
            ["takings"] = Signed(takings),
            ["given"] = Signed(given),
            ["givenDelivery"] = Signed(delivery),
            ["givenWithoutTax"] = Signed(untaxed),
            ["paid"] = Signed(paid),
            ["margin"] = Signed(marginOf - cost),
            ["marginOf"] = Signed(marginOf),
            ["averageOrder"] = count == 0 ? "" : Signed((long)Told.Round(takings, count)),
            ["newShoppers"] = $"{fresh}",
            ["units"] = $"{units}",
        };

        string Signed(long minor) => minor < 0 ? $"-{own.Money(-minor)}" : own.Money(minor);
    }

    /// <summary>An order as the shop was told of it, taken apart.</summary>
    private sealed class Told
    {
        public required string State { get; init; }
        public required string Day { get; init; }
        public required long Change0 { get; init; }
        public required string? Shopper { get; init; }
        public bool IsNew { get; set; }
        public List<ToldLine> Lines { get; } = [];
        public Dictionary<string, long> Delivery { get; } = [];
        public Dictionary<string, long> Paid { get; } = [];
        private readonly HashSet<string> applied = [];
        private bool isWithout = true;

        public bool Has(string name) => name == "*" || (name == "-" ? isWithout : applied.Contains(name));

        public static Told Of(JsonNode order, JsonObject cart, OwnShop own, string everySecond)
        {
            var result = order["result"]!;
            var currency = (string)result["currency"]!;
            var placed = DateTimeOffset.Parse((string)order["placedAt"]!, CultureInfo.InvariantCulture);
            var told = new Told
            {
                State = (string)order["state"]!,
                Day = TimeZoneInfo
                    .ConvertTime(placed, TimeZoneInfo.FindSystemTimeZoneById(own.Zone))
                    .ToString("yyyy-MM-dd", CultureInfo.InvariantCulture),
                Change0 = placed.ToUnixTimeSeconds(),
                Shopper = (string?)cart["shopper"]?["id"],
            };
            long Minor(JsonNode? amount) => own.Minor(amount!, currency);
            var back = order["returned"]?["units"]?.AsArray();
            var taken = new Dictionary<string, List<(ToldLine Line, long Amount)>>();
            void Take(string promotion, ToldLine line, long amount)
            {
                if (!taken.TryGetValue(promotion, out var parts))
                    taken[promotion] = parts = [];
                parts.Add((line, amount));
                // The rules of this shop lower every unit of what they touch, but for one that lowers every second.
                if (amount > 0)
                    line.Lowered[promotion] = promotion == everySecond ? line.Quantity / 2 : line.Quantity;
            }

            foreach (var line in result["lines"]!.AsArray().Concat(result["gifts"]!.AsArray()))
            {
                var sku = (string)line!["sku"]!;
                var made = new ToldLine
                {
                    Sku = sku,
                    Quantity = (long)line["quantity"]!,
                    Net = Minor(line["net"]),
                    Back = back is null ? 0 : (long)back[told.Lines.Count]!,
                    Cost = sku == "C" ? null : Cost(sku) * (long)line["quantity"]!,
                };
                told.Lines.Add(made);
                foreach (var part in line["parts"]?.AsArray() ?? [])
                    Take((string)part!["promotion"]!, made, Minor(part["amount"]));
                if (line["value"] is { } value)
                    Take((string)line["promotion"]!, made, Minor(value) - made.Net);
            }

            foreach (var promotion in result["promotions"]!.AsArray())
            {
                var (id, amount) = ((string)promotion!["id"]!, Minor(promotion["amount"]));
                // What only waits to be picked has given nothing.
                if (promotion["toPick"] is not null && amount == 0 && (long)promotion["units"]! == 0)
                    continue;
                told.applied.Add(id);
                var from = (string)promotion["from"]!;
                told.isWithout &= from == "credit";
                if (from == "goods")
                    Take(id, told.Lines.First(line => line.Sku == "C"), amount);
                else if (from == "credit")
                {
                    // What came back to money and card is as what they paid.
                    var totals = result["totals"]!;
                    var returned = order["returned"] is { } some ? Minor(some["amount"]) : 0;
                    var toCard =
                        Minor(totals["total"]) == 0
                            ? 0
                            : (long)(new BigInteger(returned) * Minor(totals["credit"]) / Minor(totals["total"]));
                    told.Paid[id] =
                        amount == 0
                            ? 0
                            : (long)(new BigInteger(InBase(amount, currency, own)) * (amount - Math.Min(toCard, amount)) / amount);
                }
                else if (amount - (taken.GetValueOrDefault(id)?.Sum(part => part.Amount) ?? 0) is > 0 and var off)
                    told.Delivery[id] = InBase(off, currency, own);
            }

            // Free of tax class by class, rounded once and spread; then converted once and spread.
            foreach (var ofClass in told.Lines.GroupBy(line => Rate(line.Sku, own)))
                Spread(
                    [.. ofClass],
                    line => line.Net,
                    (long)Round((BigInteger)ofClass.Sum(line => line.Net) * 100, 100 + ofClass.Key),
                    (line, share) => line.WithoutTax = share
                );
            Spread(
                told.Lines,
                line => line.WithoutTax,
                InBase(told.Lines.Sum(line => line.WithoutTax), currency, own),
                (line, share) => line.NetInBase = share
            );
            foreach (var (promotion, parts) in taken)
            {
                var untaxed = parts
                    .GroupBy(part => Rate(part.Line.Sku, own))
                    .Sum(ofClass => (long)Round((BigInteger)ofClass.Sum(part => part.Amount) * 100, 100 + ofClass.Key));
                Spread(
                    parts,
                    part => part.Amount,
                    InBase(parts.Sum(part => part.Amount), currency, own),
                    (part, share) => Add(part.Line, promotion, share, 0)
                );
                Spread(parts, part => part.Amount, InBase(untaxed, currency, own), (part, share) => Add(part.Line, promotion, 0, share));
            }

            return told;

            static void Add(ToldLine line, string promotion, long given, long without)
            {
                var before = line.Given.GetValueOrDefault(promotion);
                line.Given[promotion] = (before.Item1 + given, before.Item2 + without);
            }
        }

        private static long Cost(string sku) =>
            sku switch
            {
                "A" => 999,
                "B" => 1_666,
                _ => 225,
            };

        private static int Rate(string sku, OwnShop own) =>
            own.Tax != "inclusive" ? 0
            : sku == "B" ? 7
            : 19;

        private static long InBase(long minor, string currency, OwnShop own)
        {
            if (currency == own.Currency)
                return minor;
            // Pounds have two decimals: minor / 100 / rate, in minor units of the base currency.
            var scale = (BigInteger)1_000_000;
            return (long)Round((BigInteger)minor * scale * BigInteger.Pow(10, own.Decimals), (BigInteger)(own.Rate * 1_000_000m) * 100);
        }

        public static BigInteger Round(BigInteger dividend, BigInteger divisor) => ((2 * dividend) + divisor) / (2 * divisor);

        // By largest remainder; of equal ones the first.
        private static void Spread<T>(IReadOnlyList<T> over, Func<T, long> weight, long amount, Action<T, long> put)
        {
            var whole = over.Sum(weight);
            if (whole == 0)
                return;
            var shares = over.Select(
                    (one, place) =>
                        (
                            one,
                            place,
                            Floor: (long)((BigInteger)amount * weight(one) / whole),
                            Remainder: (long)((BigInteger)amount * weight(one) % whole)
                        )
                )
                .ToArray();
            var left = amount - shares.Sum(share => share.Floor);
            var more = shares
                .OrderByDescending(share => share.Remainder)
                .ThenBy(share => share.place)
                .Take((int)left)
                .Select(share => share.place)
                .ToHashSet();
            foreach (var (one, place, floor, _) in shares)
                put(one, floor + (more.Contains(place) ? 1 : 0));
        }
    }

    private sealed class ToldLine
    {
        public required string Sku { get; init; }
        public required long Quantity { get; init; }
        public required long Net { get; init; }
        public required long Back { get; init; }
        public required long? Cost { get; init; }
        public long WithoutTax { get; set; }
        public long NetInBase { get; set; }
        public Dictionary<string, long> Lowered { get; } = [];
        public Dictionary<string, (long, long)> Given { get; } = [];

        // Unit by unit: the first ones hold the cents that do not divide evenly, and go first.
        public long Left(long amount) =>
            Enumerable.Range(0, (int)Quantity).Skip((int)Back).Sum(unit => (amount / Quantity) + (unit < amount % Quantity ? 1 : 0));
    }
}
