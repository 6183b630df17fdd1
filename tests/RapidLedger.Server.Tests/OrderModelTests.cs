using System.Text.Json.Nodes;
using CsCheck;
using RapidLedger.Tests;
using static RapidLedger.Server.Tests.Store;

namespace RapidLedger.Server.Tests;

/// <summary>
/// Orders against an independent small book: placed, held, lapsed, replaced, taken and given back at random through two processes over one
/// file, which are killed now and then. After each step the book foretells what the next cart is told.
/// </summary>
public class OrderModelTests
{
    private const int Steps = 300;

    private static readonly string[] Codes = ["TOTAL", "EACH", "BUDGET", "CARDA", "CARDB", "OWN", "LAPSE"];

    private sealed record Step(int Kind, int Which, int Units, int Codes, int Shopper, bool IsGbp, bool Take, bool Second);

    private static readonly Gen<Step> Any = Gen.Select(
            Gen.Int[0, 11],
            Gen.Int[0, 999],
            Gen.Int[1, 4],
            Gen.Int[0, (1 << Codes.Length) - 1],
            Gen.Int[0, 4],
            Gen.Bool,
            Gen.Bool,
            Gen.Bool
        )
        .Select(drawn => new Step(drawn.Item1, drawn.Item2, drawn.Item3, drawn.Item4, drawn.Item5, drawn.Item6, drawn.Item7, drawn.Item8));

    // What may not be left to chance: an order that a card pays, of which a unit is given back, and a short hold.
    private static readonly Step[] Always =
    [
        new(0, 1, 4, 1 << Array.IndexOf(Codes, "CARDA"), 2, IsGbp: false, Take: true, Second: false),
        new(6, 0, 1, 0, 0, IsGbp: false, Take: false, Second: true),
        new(0, 8, 1, 0, 0, IsGbp: false, Take: false, Second: false),
    ];

    [Theory]
    [MemberData(nameof(OwnShop.Currencies), MemberType = typeof(OwnShop))]
    public async Task Whatever_is_done_the_books_agree(string currency)
    {
        var shop = OwnShop.Of(currency);
        await using var first = await shop.ServeShipped();
        var batch = await Bring(first, "CARD-A", "CARD-B");
        string Discount(string more, int percent) =>
            $$"""{{{more}}, "rewards": [{"kind": "discount", "on": {"in": [{"all": true}]}, "take": {"percent": {{percent}} }, "per": "cart"}]}""";
        var (holds, own, lapse) = (12_000L, 3_000L, 2_000L);
        var (rate, unit) = (shop.Rate, (decimal)Math.Pow(10, shop.Decimals));
        foreach (
            var document in (string[])
                [
                    Discount("\"label\": \"T\", \"trigger\": {\"codes\": [\"TOTAL\"]}, \"limits\": {\"total\": 4}", 10),
                    Discount("\"label\": \"E\", \"trigger\": {\"codes\": [\"EACH\"]}, \"limits\": {\"perShopper\": 1}", 5),
                    Discount(
                        $"\"label\": \"B\", \"trigger\": {{\"codes\": [\"BUDGET\"]}}, \"limits\": {{\"budget\": \"{shop.Money(2_500)}\"}}",
                        8
                    ),
                    $$"""{"label": "C", "trigger": {"batches": ["{{batch}}"]}, "rewards": [{"kind": "credit", "amount": "{{shop.Money(holds)}}", "keepRest": true}]}""",
                    $$"""{"label": "O", "rank": 200, "trigger": {"codes": ["OWN"]}, "rewards": [{"kind": "credit", "amount": "{{shop.Money(own)}}", "keepRest": true}]}""",
                    $$"""{"label": "L", "rank": 300, "trigger": {"codes": ["LAPSE"]}, "rewards": [{"kind": "credit", "amount": "{{shop.Money(lapse)}}", "keepRest": false}]}""",
                    """{"label": "G", "when": {"quantity": {"of": {"in": [{"sku": "A"}]}, "op": ">=", "n": 3}}, "rewards": [{"kind": "gift", "give": {"skus": ["G"]}}]}""",
                ]
        )
            await PutLive(first, document);
        var budget = (string)(await first.Get("/api/promotions?q=BUDGET"))["rows"]![0]!["id"]!;
        await using var second = await RunningServer.StartShipped(demo: false, data: first.Data);
        var key = NewKey(first, "server");
        var book = new OrderBookModel(
            shop,
            new Dictionary<string, (long, bool)>
            {
                ["CARDA"] = (holds, true),
                ["CARDB"] = (holds, true),
                ["OWN"] = (own, true),
                ["LAPSE"] = (lapse, false),
            }
        );

        var (lapsed, partly) = (0, 0);

        await Any.Array[Steps]
            .SampleAsync(
                async random =>
                {
                    Step[] steps = [.. Always, .. random];
                    for (var number = 0; number < steps.Length; number++)
                    {
                        var step = steps[number];
                        var server = step.Second ? second : first;
                        using var store = new Store(server, key, "model");
                        await Do(step, number, store, server);
                    }
                },
                iter: 1,
                threads: 1
            );

        // The last step's hold may have been a short one.
        await LetLapse();
        // Something of all kinds has happened.
        Assert.True(book.Orders.Count > Steps / 5, $"{book.Orders.Count} orders");
        // That lapsed orders are taken after all is one of these kinds, so that none need be left at the end.
        Assert.True(lapsed > 0, "none lapsed");
        Assert.Equal(
            ["givenBack", "held", "taken"],
            book.Orders.Select(order => order.State).Distinct().Order(StringComparer.Ordinal).Except(["lapsed"])
        );
        Assert.True(partly > 0, "no card was paid back in part");
        // At the end everything is as the book says, in the store's own counters too.
        using var last = new Store(first, key, "model");
        foreach (var order in book.Orders)
        {
            var told = await last.Get($"orders/{order.Id}");
            Assert.Equal(order.State, (string)told["state"]!);
        }

        foreach (var shopper in (string[])["s1", "s2", "s3"])
        {
            var (count, spent) = book.Shopper(shopper);
            var known = (await first.Get($"/api/shoppers?q={shopper}")).AsArray().FirstOrDefault();
            // The first is known to have bought before.
            Assert.Equal(
                (count + (shopper == "s1" ? 3 : 0), spent + (shopper == "s1" ? 10_000 : 0)),
                known is null ? (0, 0) : ((long)known["orders"]!, shop.Minor(known["spent"]!, shop.Currency))
            );
        }

        var stock = (await first.Get("/api/stock?q=G")).AsArray().Single(item => (string)item!["sku"]! == "G")!;
        Assert.Equal((Math.Max(0, 9 - book.Sold("G")), book.Sold("G")), ((long)stock["free"]!, (long)stock["sold"]!));
        var (exit, output, _) = RunningServer.Run("", "check-store", first.Data);
        Assert.True(exit == 0, output);
        // No limit was passed, but a budget may be, by its last order.
        Assert.All(output.Split('\n', StringSplitOptions.RemoveEmptyEntries), line =>
            Assert.True(line == "All counters agree with what they count." || line.Contains(" gave ", StringComparison.Ordinal), line)
        );

        // The shortest holds are over before anything else is done, so that it does not matter how fast that is.
        async Task LetLapse()
        {
            foreach (
                var order in book.Orders.Where(order =>
                    order is { State: "held", HeldUntil: { } until } && until < DateTimeOffset.UtcNow.AddMinutes(10)
                )
            )
            {
                while (DateTimeOffset.UtcNow < order.HeldUntil)
                    await Task.Delay(50);
                order.State = "lapsed";
                lapsed++;
            }
        }

        async Task Do(Step step, int number, Store store, RunningServer server)
        {
            await LetLapse();
            switch (step.Kind)
            {
                case < 6:
                    await Place(step, number, store);
                    break;
                case < 8 when book.Orders.Count > 0:
                    await GiveBack(book.Orders[step.Which % book.Orders.Count], step, number, store);
                    break;
                case < 10 when book.Orders.Count > 0:
                    await Take(book.Orders[step.Which % book.Orders.Count], number, store);
                    break;
                case >= 10 when step.Which % 12 == 0:
                    // Killed in the middle of nothing in particular; the other goes on.
                    server.Kill();
                    await server.StartAgain();
                    break;
            }
        }

        async Task Place(Step step, int number, Store store)
        {
            var shopper = step.Shopper == 0 ? null : $"s{step.Shopper}";
            var cart = shop.Cart(("A", step.Units), ("B", 1 + (step.Which % 2)));
            cart["codes"] = new JsonArray([
                .. Codes.Where((_, bit) => (step.Codes & (1 << bit)) != 0).Select(code => JsonValue.Create(code)),
            ]);
            if (step.IsGbp)
                cart["currency"] = "GBP";
            if (shopper is "s4")
                cart["guestKey"] = "a device";
            else if (shopper is not null)
                cart["shopper"] = new JsonObject { ["id"] = shopper };
            var quote = await store.Quote(cart);

            // What the book foretells of each code.
            var told = quote["result"]!["codes"]!.AsArray().ToDictionary(code => (string)code!["code"]!, code => code!);
            var due = Minor(quote["shown"]!["total"]!);
            foreach (var code in Codes.Where(told.ContainsKey))
            {
                var isCard = code is "CARDA" or "CARDB" or "OWN" or "LAPSE";
                var expected = code switch
                {
                    "TOTAL" => book.Uses(code) < 4 ? "applied" : "limitReached",
                    "EACH" => shopper is null || book.Uses(code, shopper) < 1 ? "applied" : "shopperLimitReached",
                    "BUDGET" => book.Given(budget) < 2_500 ? "applied" : "limitReached",
                    _ => null,
                };
                if (expected is not null)
                    Assert.Equal((number, code, expected), (number, code, (string)told[code]["status"]!));
                if (!isCard)
                    continue;
                // Each card pays what it holds of what is still due, in the order of ranks and as entered.
                var pays = Math.Min(book.Holds(code, Here(code)), due);
                var status =
                    book.Holds(code, Here(code)) == 0 ? "codeUsedUp"
                    : pays == 0 ? "nothingLeft"
                    : "applied";
                Assert.Equal((number, code, status), (number, code, (string)told[code]["status"]!));
                if (status == "applied")
                    Assert.Equal((number, code, pays), (number, code, Minor(told[code]["amount"]!)));
                due -= pays;
            }

            Assert.Equal((number, due), (number, Minor(quote["shown"]!["due"]!)));
            Assert.Equal(
                step.Units >= 3 && book.Sold("G") < 9 ? 1 : 0,
                quote["shown"]!["gifts"]!.AsArray().Sum(gift => (int)gift!["quantity"]!)
            );

            var holdsAlready = shopper is not null && book.HeldBy(shopper) >= 3 && !step.Take;
            var (status2, answer) = await store.Post(
                "orders",
                new
                {
                    cart,
                    shown = quote["shown"],
                    take = step.Take,
                    hold = step.Which % 8 == 0 ? 1 : 3_600,
                },
                $"place {number}"
            );
            Assert.True(status2 == (holdsAlready ? 409 : 201), $"{number}: {status2} {answer.ToJsonString()}");
            if (status2 == 201)
                book.Place(answer, shopper, Here, InBase);

            long Minor(JsonNode amount) => shop.Minor(amount, step.IsGbp ? "GBP" : shop.Currency);
            long Here(string card) =>
                Worth(
                    card is "OWN" ? own
                        : card is "LAPSE" ? lapse
                        : holds,
                    step.IsGbp
                );
            long InBase(long minor) => !step.IsGbp ? minor : (long)Math.Round(minor / 100m / rate * unit, MidpointRounding.AwayFromZero);
        }

        async Task GiveBack(OrderBookModel.Order order, Step step, int number, Store store)
        {
            var left = order.Lines.Select((line, place) => (Line: place, Units: line.Count)).Where(line => line.Units > 0).ToArray();
            (int Line, int Units)[]? what = step.Units == 4 || left.Length == 0 ? null : [(left[step.Which % left.Length].Line, 1)];
            var (status, answer) = await store.Post(
                $"orders/{order.Id}/give-back",
                what is null ? null : new { lines = what.Select(one => new { line = one.Line, quantity = one.Units }) },
                $"back {number}"
            );
            Assert.Equal((number, order.State == "lapsed" ? 409 : 200), (number, status));
            if (order.State is "lapsed" or "givenBack")
                return;
            var (now, toCards) = OrderBookModel.GiveBack(order, what);
            partly += order.Payments.Exists(paid => paid.Back > 0 && paid.Back < paid.Amount) ? 1 : 0;
            var returned = answer["returned"]!;
            Assert.Equal(
                (number, now, toCards, order.State),
                (
                    number,
                    shop.Minor(returned["now"]!, order.Currency),
                    shop.Minor(returned["toCredit"]!, order.Currency),
                    (string)answer["state"]!
                )
            );
            Assert.Equal(
                order.Payments.Select(paid => (paid.Card, paid.Back)),
                returned["cards"]!.AsArray().Select(card => ((string)card!["code"]!, shop.Minor(card["amount"]!, order.Currency)))
            );
            foreach (var (paid, card) in order.Payments.Zip(returned["cards"]!.AsArray()))
                Assert.Equal(book.Holds(paid.Card, paid.Here) > 0, (bool)card!["usable"]!);
        }

        async Task Take(OrderBookModel.Order order, int number, Store store)
        {
            var (status, answer) = await store.Post($"orders/{order.Id}/take", null, $"take {number}");
            // A lapsed one is taken only if all that it used is still free.
            var isFree =
                order.State != "lapsed"
                || (
                    (!order.Codes.Contains("TOTAL") || book.Uses("TOTAL") < 4)
                    && (!order.Codes.Contains("EACH") || order.Shopper is null || book.Uses("EACH", order.Shopper) < 1)
                    && (!order.Codes.Contains("BUDGET") || book.Given(budget) < 2_500)
                    && order.Payments.TrueForAll(paid =>
                        paid.Card == "LAPSE" ? book.Drawn(paid.Card) == 0 : book.Drawn(paid.Card) + paid.Drawn <= paid.InBase
                    )
                    && (!order.Units.ContainsKey("G") || book.Sold("G") + order.Units["G"] <= 9)
                );
            Assert.True(
                status == (order.State == "givenBack" || !isFree ? 409 : 200),
                $"{number}: {status} {order.State} {answer.ToJsonString()}"
            );
            if (status == 200)
                order.State = "taken";
        }

        long Worth(long inBase, bool isGbp) =>
            !isGbp ? inBase : (long)Math.Round(inBase / unit * rate * 100m, MidpointRounding.AwayFromZero);
    }
}
