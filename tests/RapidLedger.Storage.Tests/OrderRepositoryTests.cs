using CsCheck;
using Dapper;
using Microsoft.Data.Sqlite;
using NodaTime;
using RapidLedger.Pricing;

namespace RapidLedger.Storage.Tests;

/// <summary>
/// Orders and what they use: whatever is done in whatever order, the counters say what the rows say; and a check that finds where they do
/// not.
/// </summary>
public sealed class OrderRepositoryTests : IDisposable
{
    private static readonly string[] Promotions = ["a", "b"];
    private static readonly string[] States = ["held", "taken", "givenBack", "lapsed"];

    private readonly string folder = Directory.CreateTempSubdirectory("rapid-ledger").FullName;

    public void Dispose()
    {
        SqliteConnection.ClearAllPools();
        Directory.Delete(folder, recursive: true);
    }

    [Fact]
    public async Task Whatever_is_placed_and_moved_is_counted_once_while_it_counts()
    {
        var (database, orders, codes) = await Store("orders.db");
        using (database)
        {
            var number = 0;
            await Gen.Select(Gen.Int[0, 2], Gen.Int[0, 3], Gen.Int[0, 3], Gen.Bool, Gen.Int[1, 500])
                .Array[1, 12]
                .SampleAsync(
                    async steps =>
                    {
                        var model =
                            new List<(
                                string Id,
                                string State,
                                string Promotion,
                                string? Shopper,
                                bool Rehearsal,
                                long Amount,
                                string Day,
                                string Code,
                                long Drawn
                            )>();
                        var known = new HashSet<string>(StringComparer.Ordinal);
                        foreach (var (kind, what, state, rehearsal, amount) in steps)
                        {
                            if (kind == 0 || model.Count == 0)
                            {
                                var id = $"o{++number}";
                                var order = new StoredOrder(
                                    id,
                                    what < 2 ? "held" : "taken",
                                    1_000 + number,
                                    what % 2 == 0 ? "2027-03-05" : "2027-03-06",
                                    2_000,
                                    1,
                                    what == 3 ? null : $"s{what}",
                                    rehearsal,
                                    amount,
                                    "{}",
                                    "{}",
                                    null,
                                    0
                                );
                                var code = $"C{number}";
                                await codes.Fill("b1", [(code, code)], 1);
                                await orders.Write(transaction =>
                                {
                                    transaction.Place(
                                        order,
                                        new(
                                            [new(Promotions[what % 2], amount, amount / 2)],
                                            [new(code, amount / 3)],
                                            [Card(code, amount / 3)],
                                            [new("SKU", amount)],
                                            amount
                                        )
                                    );
                                    return 0;
                                });
                                model.Add(
                                    (id, order.State, Promotions[what % 2], order.Shopper, rehearsal, amount, order.Day, code, amount / 3)
                                );
                                if (!rehearsal && order.Shopper is { } shopper)
                                    known.Add(shopper);
                            }
                            else if (kind == 2)
                            {
                                // Some of what a card paid comes back to it.
                                var place = amount % model.Count;
                                var drawn = model[place].Drawn / (what + 1);
                                await orders.Write(transaction =>
                                {
                                    transaction.Draw(
                                        transaction.Find(model[place].Id)!,
                                        Card(model[place].Code, model[place].Amount / 3),
                                        drawn
                                    );
                                    return 0;
                                });
                                model[place] = model[place] with { Drawn = drawn };
                            }
                            else
                            {
                                var place = amount % model.Count;
                                var moved = States[state];
                                await orders.Write(transaction => transaction.Move(transaction.Find(model[place].Id)!, moved));
                                model[place] = model[place] with { State = moved };
                            }
                        }

                        // What the counters say of these orders is what the model says; then all of them are given back, and nothing is
                        // left.
                        var counting = model.Where(order => !order.Rehearsal && order.State is ("held" or "taken")).ToArray();
                        orders.Read(transaction =>
                        {
                            foreach (var (day, shopper) in new[] { ("2027-03-05", "s0"), ("2027-03-06", "s1"), ("2027-03-06", null) })
                            {
                                var expected = counting
                                    .GroupBy(order => order.Promotion)
                                    .OrderBy(group => group.Key)
                                    .Select(group => new StoredUsage(
                                        group.Key,
                                        group.Count(),
                                        group.Count(order => shopper is not null && order.Shopper == shopper),
                                        group.Count(order => order.Day == day),
                                        group.Sum(order => order.Amount),
                                        group.Sum(order => order.Amount / 2)
                                    ));
                                Assert.Equal(expected, transaction.Usage(day, shopper).OrderBy(used => used.PromotionId));
                            }

                            foreach (var order in model)
                                if (transaction.Standing([order.Code]) is [var code])
                                {
                                    var counts = counting.Contains(order);
                                    Assert.Equal(
                                        (counts ? 1 : 0, counts && order.Amount / 3 > 0 ? order.Drawn : 0),
                                        (code.Used, code.Drawn)
                                    );
                                }

                            Assert.Equal(counting.Sum(order => order.Amount), transaction.Sold(["SKU", "none"]).Sum(sold => sold.Units));
                            foreach (var id in new[] { "s0", "s1", "s2" })
                            {
                                var own = counting.Where(order => order.Shopper == id).ToArray();
                                var (orderCount, spent) = transaction.Shopper(id) is { } stored ? (stored.Orders, stored.Spent) : (0, 0);
                                Assert.Equal(
                                    (own.Length, own.Where(order => order.State == "taken").Sum(order => order.Amount)),
                                    (orderCount, spent)
                                );
                                Assert.True(!known.Contains(id) || transaction.Shopper(id) is not null);
                            }

                            return 0;
                        });
                        Assert.Empty(new CounterCheck(database).Differences());
                        foreach (var order in model)
                            await orders.Write(transaction => transaction.Move(transaction.Find(order.Id)!, "givenBack"));
                        Assert.Empty(orders.Read(transaction => transaction.Usage("2027-03-05", null)));
                        Assert.Empty(new CounterCheck(database).Differences());
                    },
                    iter: 40,
                    threads: 1
                );
        }
    }

    // Every counter, by its table, its figures, and a row that counts what is not there.
    private static readonly (string Table, string[] Figures, string? Stray)[] Counters =
    [
        ("uses", ["uses", "amount", "drawn"], "INSERT INTO uses (promotion_id, uses, amount, drawn) VALUES ('b', 1, 0, 0)"),
        ("day_uses", ["uses"], "INSERT INTO day_uses VALUES ('2027-03-06', 'a', 1)"),
        ("shopper_uses", ["uses"], "INSERT INTO shopper_uses VALUES ('s2', 'a', 1)"),
        ("codes", ["used", "drawn"], null),
        ("batches", ["codes", "used", "voided"], null),
        ("sold", ["units"], "INSERT INTO sold (sku, units) VALUES ('OTHER', 1)"),
        (
            "shoppers",
            ["placed_orders", "placed_spent"],
            "INSERT INTO shoppers (id, name, groups, orders, spent, placed_orders) VALUES ('s2', '', '', 0, 0, 1)"
        ),
        ("redemptions", ["counts"], null),
    ];

    [Fact]
    public async Task Whatever_harm_is_done_to_a_counter_is_found()
    {
        var (database, orders, codes) = await Store("harm.db");
        using (database)
        {
            await codes.Fill("b1", [("C", "C"), ("D", "D")], 1);
            await codes.SetVoid("D", true);
            await orders.Write(transaction =>
            {
                transaction.Place(
                    new("o1", "taken", 1_000, "2027-03-05", null, 1, "s1", false, 5, "{}", "{}", null, 0),
                    new([new("a", 5, 1)], [new("C", 2)], [Card("C", 2)], [new("SKU", 3)], 5)
                );
                transaction.Place(
                    new("o2", "held", 1_000, "2027-03-05", 2_000, 1, "s1", false, 7, "{}", "{}", null, 0),
                    new([new("a", 7, 0)], [], [], [], 7)
                );
                return 0;
            });
            Assert.Empty(new CounterCheck(database).Differences());
            var harms = Counters
                .SelectMany(counter =>
                    counter
                        .Figures.SelectMany(figure =>
                            ((string[])[$"{figure} + 1", $"{figure} - 1", "0"])
                                .Where(to => counter.Table != "redemptions" || to == "0")
                                .Select(to => (counter.Table, Harm: $"UPDATE {counter.Table} SET {figure} = {to}"))
                        )
                        .Concat(
                            counter.Table is "codes" or "batches" or "redemptions" ? [] : [(counter.Table, $"DELETE FROM {counter.Table}")]
                        )
                        .Concat(counter.Stray is { } stray ? [(counter.Table, stray)] : [])
                )
                .ToArray();
            foreach (var (table, harm) in harms)
            {
                using var connection = database.Open();
                using var transaction = connection.BeginTransaction();
                connection.Execute(harm, transaction: transaction);
                Assert.True(CounterCheck.Differences(connection, transaction).Count > 0, $"{table}: {harm}");
                transaction.Rollback();
            }

            Assert.Equal(
                ["promotion a: uses: 2 kept, 1 counted; amount: 12 kept, 5 counted"],
                await Harmed("DELETE FROM redemptions WHERE order_id = 'o2'", "promotion a:")
            );
            Assert.Equal(
                ["promotion on a day a on 2027-03-05: uses: 0 kept, 1 counted (nothing is kept)"],
                await Harmed("DELETE FROM day_uses", "promotion on a day")
            );

            async Task<string[]> Harmed(string harm, string about)
            {
                await database.Write((connection, transaction) => connection.Execute(harm, transaction: transaction));
                return [.. new CounterCheck(database).Differences().Where(told => told.StartsWith(about, StringComparison.Ordinal))];
            }
        }
    }

    [Fact]
    public async Task Stock_that_is_set_begins_anew_and_a_shopper_who_is_forgotten_leaves_the_counters_as_they_are()
    {
        var (database, orders, _) = await Store("kept.db");
        using (database)
        {
            StoredOrder Order(string id, string shopper) =>
                new(
                    id,
                    "taken",
                    1_000,
                    "2027-03-05",
                    null,
                    1,
                    shopper,
                    false,
                    5,
                    $$$"""{"shopper": {"id": "{{{shopper}}}", "groups": ["club"]}, "lines": []}""",
                    "{}",
                    null,
                    0
                );
            Task<int> Place(string id, string shopper, long units) =>
                orders.Write(transaction =>
                {
                    transaction.Place(Order(id, shopper), new([new("a", 5, 0)], [], [], [new("SKU", units)], 5));
                    return 0;
                });
            Task<int> Do(Action<OrderTransaction> work) =>
                orders.Write(transaction =>
                {
                    work(transaction);
                    return 0;
                });
            // As the shop reckons it, with 20 in the catalogue.
            long Left() => orders.Read(transaction => transaction.Sold(["SKU"])) is [var sold] ? (sold.Counted ?? 20) - sold.Units : 20;

            await Place("o1", "anna", 3);
            Assert.Equal(17, Left());
            // Neither what was sold before it was counted nor what comes back of it changes the count, and what is sold after does.
            await Do(transaction => transaction.SetStock("SKU", 16));
            await Place("o2", "anna", 2);
            Assert.Equal(14, Left());
            await Do(transaction => transaction.Move(transaction.Find("o1")!, "givenBack"));
            Assert.Equal(14, Left());
            // Taken back, what was sold meanwhile stays sold.
            await Do(transaction => transaction.MoveStock("SKU", 20, 1));
            Assert.Equal(15, Left());
            await Do(transaction => transaction.Move(transaction.Find("o2")!, "givenBack"));
            Assert.Equal(17, Left());
            await Do(transaction => transaction.Uncount("SKU"));
            Assert.Equal(20, Left());
            await Do(transaction => transaction.MoveStock("SKU", 20, -1));
            Assert.Equal(19, Left());
            Assert.Empty(new CounterCheck(database).Differences());

            await Place("o3", "anna", 1);
            var before = orders.Read(transaction => transaction.Usage("2027-03-05", null));
            Assert.Equal(3, await orders.Write(transaction => transaction.Forget("anna")));
            Assert.Null(await orders.Write(transaction => transaction.Forget("anna")));
            Assert.Equal(before, orders.Read(transaction => transaction.Usage("2027-03-05", null)));
            Assert.Empty(new CounterCheck(database).Differences());
            // Nothing names her, and whoever has her id now is new.
            using var connection = database.Open();
            Assert.Equal(
                0,
                connection.ExecuteScalar<long>(
                    "SELECT (SELECT count(*) FROM orders WHERE instr(cart || shopper, 'anna')) + (SELECT count(*) FROM shoppers WHERE id = 'anna') + (SELECT count(*) FROM redemptions WHERE shopper_id = 'anna') + (SELECT count(*) FROM shopper_uses WHERE shopper_id = 'anna')"
                )
            );
            Assert.Equal(0, orders.Read(transaction => transaction.Usage("2027-03-05", "anna")).Sum(used => used.Shopper));
            // Hers can still be given back, and nobody begins to be known by that.
            await Do(transaction => transaction.Move(transaction.Find("o3")!, "givenBack"));
            Assert.Equal(0, connection.ExecuteScalar<long>("SELECT count(*) FROM shoppers"));
            Assert.Empty(new CounterCheck(database).Differences());
        }
    }

    [Fact]
    public async Task Of_writes_that_come_together_each_fails_alone_and_sees_those_before_it()
    {
        var (database, orders, _) = await Store("together.db");
        using (database)
        {
            var writes = Enumerable
                .Range(0, 300)
                .Select(number =>
                    orders.Write(transaction =>
                    {
                        var seen = transaction.Usage("2027-03-05", null).Sum(used => used.Total);
                        transaction.Place(
                            new($"o{number}", "taken", 1_000, "2027-03-05", null, 1, null, false, 1, "{}", "{}", null, 0),
                            new([new("a", 1, 0)], [], [], [], 1)
                        );
                        return number % 3 == 0 ? throw new InvalidOperationException($"{number}") : seen;
                    })
                )
                .ToArray();
            var failed = new List<int>();
            var seen = new List<long>();
            for (var number = 0; number < writes.Length; number++)
            {
                try
                {
                    seen.Add(await writes[number]);
                }
                catch (InvalidOperationException error)
                {
                    Assert.Equal($"{number}", error.Message);
                    failed.Add(number);
                }
            }

            // A third failed and left nothing; each of the others saw all that went before it, and only that.
            Assert.Equal(100, failed.Count);
            Assert.Equal(Enumerable.Range(0, 200).Select(count => (long)count), seen);
            Assert.Equal(200, orders.Read(transaction => transaction.ChangedAfter(0, 1_000)).Count);
            Assert.Equal(
                Enumerable.Range(1, 200).Select(change => (long)change),
                orders.Read(transaction => transaction.ChangedAfter(0, 1_000)).Select(order => order.Change)
            );
            Assert.Empty(new CounterCheck(database).Differences());
            // One that nobody waits for any more is not begun.
            using var gone = new CancellationTokenSource();
            await gone.CancelAsync();
            await Assert.ThrowsAnyAsync<OperationCanceledException>(() => orders.Write(_ => 0, gone.Token));
        }
    }

    [Fact]
    public async Task Codes_are_found_by_how_they_begin_and_each_is_there_once()
    {
        var (database, _, codes) = await Store("codes.db");
        using (database)
        {
            var random = new Random(3);
            var drawn = Enumerable.Range(0, 4_000).Select(_ => $"{(char)('A' + random.Next(4))}{random.Next(100_000):D5}").ToArray();
            var (put, _, _) = await codes.Fill("b1", [.. drawn.Select(code => (code, code))], 1);
            Assert.Equal(drawn.Distinct().Count(), put);
            Assert.Equal(new(0), await codes.Fill("b1", [.. drawn.Select(code => (code, code))], 1));
            Assert.Equal(new(0, IsBehind: true), await codes.Fill("b1", [("Y", "Y")], 0));
            Assert.Equal(put, (int)codes.FindBatch("b1")!.Codes);
            Assert.Equal(new(0, IsGone: true), await codes.Fill("nothing", [("X", "X")], 1));
            foreach (var beginning in new[] { "", "A", "B1", "C99", "D00000", "Z" })
            {
                var expected = drawn
                    .Distinct()
                    .Where(code => code.StartsWith(beginning, StringComparison.Ordinal))
                    .Order(StringComparer.Ordinal)
                    .ToArray();
                Assert.Equal(expected.Take(50), codes.Beginning(beginning, null, "", 50).Select(code => code.Bare));
                if (expected.Length > 50)
                    Assert.Equal(expected.Skip(50).Take(50), codes.Beginning(beginning, null, expected[49], 50).Select(code => code.Bare));
            }

            Assert.Equal(drawn.Distinct().Order(StringComparer.Ordinal), codes.CodesOf("b1").Select(code => code.Bare));
            // Brought whole or not at all.
            var (batch, taken) = await codes.Bring(
                "more",
                1,
                null,
                [("NEW1", "NEW-1", null), (drawn[0], drawn[0], null), ("NEW2", "NEW-2", null)],
                1
            );
            Assert.Null(batch);
            Assert.Equal([1], taken);
            Assert.Null(codes.Find("NEW1"));
            Assert.True(await codes.Drop("b1"));
            Assert.Empty(codes.Beginning("", null, "", 10));
        }
    }

    private static CreditPayment Card(string code, long paid) => new("a", code, code, paid, 100, 100, true);

    private async Task<(Database Database, OrderRepository Orders, CodeRepository Codes)> Store(string file)
    {
        var database = new Database(Path.Combine(folder, file));
        database.Upgrade();
        await new WholeShopRepository(database, SystemClock.Instance).Replace(
            new("", "", "", [], [], [new("a", "live", "{}", null, []), new("b", "live", "{}", null, [])], []),
            ""
        );
        var codes = new CodeRepository(database, SystemClock.Instance);
        await codes.Begin("for the test", 1, null, "{}");
        return (database, new(database), codes);
    }
}
