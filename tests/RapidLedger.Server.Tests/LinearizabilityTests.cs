using System.Collections.Concurrent;
using System.Text.Json.Nodes;
using CsCheck;
using RapidLedger.Tests;
using static RapidLedger.Server.Tests.Store;

namespace RapidLedger.Server.Tests;

/// <summary>
/// Orders placed and given back at the same time through two processes come out as if they had come one after the other, in some order
/// (linearizability: Herlihy and Wing, 1990), as CsCheck's checker of histories finds against a small model.
/// </summary>
public class LinearizabilityTests
{
    private const int Limit = 2;

    [Fact]
    public async Task Orders_at_the_same_time_are_as_if_one_after_the_other()
    {
        var shop = OwnShop.Of("KWD");
        await using var first = await shop.ServeShipped();
        await using var second = await RunningServer.StartShipped(demo: false, data: first.Data);
        var key = NewKey(first, "server");
        using var one = new Store(first, key);
        using var other = new Store(second, key);
        var run = 0;
        Check.SampleParallel(
            Gen.Const(0).Select(_ => (new Shops([one, other], first, shop, Interlocked.Increment(ref run)), new Book())),
            Gen.Int[0, 4]
                .Operation<Shops, Book>(
                    order => $"place {order}",
                    (shops, order) => shops.Place(order),
                    (book, order) => book.Place(order)
                ),
            Gen.Int[0, 4]
                .Operation<Shops, Book>(
                    order => $"give back {order}",
                    (shops, order) => shops.GiveBack(order),
                    (book, order) => book.GiveBack(order)
                ),
            equal: (shops, book) => shops.States.OrderBy(entry => entry.Key).SequenceEqual(book.States.OrderBy(entry => entry.Key)),
            maxSequentialOperations: 4,
            maxParallelOperations: 4,
            iter: 25,
            threads: 2
        );
        Assert.True(run >= 25, $"{run} histories");
        Assert.Equal((0, "All counters agree with what they count.\n", ""), RunningServer.Run("", "check-store", first.Data));
    }

    // A promotion of its own, of which there are two uses, and five orders that want one.
    private sealed class Shops
    {
        private readonly Store[] stores;
        private readonly JsonObject cart;
        private readonly JsonNode quote;
        private readonly string name;
        private int calls;

        public Shops(Store[] stores, RunningServer server, OwnShop shop, int run)
        {
            (this.stores, name) = (stores, $"RUN{run}");
            PutLive(
                    server,
                    $$"""{"label": "Run", "trigger": {"codes": ["{{name}}"]}, "limits": {"total": {{Limit}} }, "rewards": [{"kind": "points", "fixed": 1}]}"""
                )
                .GetAwaiter()
                .GetResult();
            cart = shop.Cart(("A", 1)).With("codes", $"[\"{name}\"]");
            quote = stores[0].Quote(cart).GetAwaiter().GetResult();
        }

        public ConcurrentDictionary<int, string> States { get; } = new();

        public void Place(int order)
        {
            var (status, _) = Store()
                .Post(
                    "orders",
                    new
                    {
                        id = $"{name}-{order}",
                        cart,
                        shown = quote["shown"],
                        take = true,
                    },
                    $"{name} {Interlocked.Increment(ref calls)}"
                )
                .GetAwaiter()
                .GetResult();
            // It may have been given back before this answer was here.
            if (status == 201)
                States.TryAdd(order, "taken");
        }

        public void GiveBack(int order)
        {
            var (status, _) = Store()
                .Post($"orders/{name}-{order}/give-back", null, $"{name} {Interlocked.Increment(ref calls)}")
                .GetAwaiter()
                .GetResult();
            if (status == 200)
                States[order] = "given back";
        }

        private Store Store() => stores[Interlocked.Increment(ref calls) % 2];
    }

    private sealed class Book
    {
        public Dictionary<int, string> States { get; } = [];

        public void Place(int order)
        {
            if (!States.ContainsKey(order) && States.Values.Count(state => state == "taken") < Limit)
                States[order] = "taken";
        }

        public void GiveBack(int order)
        {
            if (States.ContainsKey(order))
                States[order] = "given back";
        }
    }
}
