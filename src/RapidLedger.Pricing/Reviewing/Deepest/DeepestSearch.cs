namespace RapidLedger.Pricing;

/// <summary>Looks for the deepest cart of a rulebook: every cart within the bounds where they are few, else by hill climbing.</summary>
/// <remarks>
/// Simple hill climbing with restarts (Russell and Norvig, Artificial Intelligence, "Local search and optimization problems"): the first
/// neighbour that is deeper is gone on from. It starts from carts that earn promotions, alone and together, the deepest of them first,
/// and a neighbour has a unit, a line or what earns one more promotion more or less, goes to the next number of units at which a
/// promotion gives more (between two of these nothing gets deeper), or differs in one circumstance.
/// </remarks>
internal sealed class DeepestSearch
{
    // What a pricing costs beside the choice, in units of its work.
    private const long ToPrice = 400;

    // A cart of a shop with few promotions takes about so much.
    private const long UsualPricing = 2_000;
    private const int MostItems = 24;
    private const int MostSelections = 62;
    private const int SettingsTried = 3;
    private const int MostWithoutMeeting = 60;
    private const int ItemsAtSteps = 4;

    private readonly Meetings around;
    private readonly DeepestBy by;
    private readonly DeepestBounds bounds;
    private readonly string[] holding;
    private readonly CancellationToken gone;
    private readonly Circumstances circumstances;
    private readonly Dictionary<string, int> sold;
    private readonly Lazy<Side[]> near;
    private readonly Dictionary<string, IReadOnlyList<int>> steps = new(StringComparer.Ordinal);
    private long spent;
    private long tried;
    private PricedCart? deepest;
    private Depth depth;

    public DeepestSearch(Meetings around, DeepestBy by, DeepestBounds bounds, IReadOnlyCollection<string> holding, CancellationToken gone)
    {
        (this.around, this.by, this.bounds, this.gone) = (around, by, bounds, gone);
        this.holding = [.. holding.Select(id => around.SideOf(id).Promotion.Id)];
        circumstances = new(around, bounds.Ahead);
        near = new(() => [.. Near()]);
        sold = Sold().ToDictionary(item => around.Catalogue.Variant(item).Sku, StringComparer.Ordinal);
    }

    /// <summary>Told of every cart that was priced and holds what it must.</summary>
    public Action<PricedCart>? Saw { get; init; }

    /// <summary>The deepest found.</summary>
    public Deepest? Of(long work)
    {
        var proved = false;
        if (around.Rulebook.Count > 0 && sold.Count > 0)
        {
            var isSmall = circumstances.IsComplete && circumstances.Count * Fillings() * UsualPricing <= work;
            proved = isSmall && PriceAll(work);
            if (!isSmall)
                Climb(work);
        }

        return deepest is null
            ? null
            : new(new(deepest, around.CodesIn(deepest.Cart)), depth, proved, tried, around.Catalogue.Skus.Count(IsLeftOut));

        bool IsLeftOut(string sku) => !sold.ContainsKey(sku) && !around.Catalogue.Variant(around.Catalogue.Find(sku)).Gone;
    }

    // How many carts of so many items and units there are: multisets.
    private decimal Fillings()
    {
        var count = 1m;
        for (var place = 1; place <= bounds.Units && count < long.MaxValue; place++)
            count = count * (sold.Count + place) / place;
        return count;
    }

    // False: the work has run out.
    private bool PriceAll(long work)
    {
        string[] skus = [.. sold.Keys];
        foreach (var setting in circumstances.All)
        foreach (var lines in Filled(0, bounds.Units))
            if (lines.Count > 0)
            {
                if (spent > work)
                    return false;
                var cart = setting with { Lines = [.. lines] };
                if (IsWithin(cart))
                    Look(cart);
            }

        return true;

        IEnumerable<List<Line>> Filled(int from, int units)
        {
            if (from == skus.Length)
            {
                yield return [];
                yield break;
            }

            for (var count = 0; count <= units; count++)
                foreach (var rest in Filled(from + 1, units - count))
                {
                    if (count > 0)
                        rest.Insert(0, new(skus[from], count));
                    yield return rest;
                }
        }
    }

    private void Climb(long work)
    {
        var starts = new List<(Depth Depth, Cart Cart)>();
        string[] items = [.. Telling()];
        foreach (var cart in Starts(items).Where(IsWithin).DistinctBy(Key))
            if (spent > work / 2)
                break;
            else if (Look(cart) is { } found)
                starts.Add((found, cart));
        // Slopes that were climbed before lead to the same top.
        var climbed = new HashSet<string>(StringComparer.Ordinal);
        foreach (var (start, cart) in starts.OrderBy(start => start.Depth))
            if (spent < work)
                Climb(cart, start, items, climbed, work);
    }

    private void Climb(Cart cart, Depth here, string[] items, HashSet<string> climbed, long work)
    {
        for (var moved = true; moved && climbed.Add(Key(cart)); )
        {
            moved = false;
            foreach (var next in Neighbours(cart, items))
            {
                if (spent > work)
                    return;
                if (!IsWithin(next) || Look(next) is not { } there || !(there < here))
                    continue;
                (cart, here, moved) = (next, there, true);
                break;
            }
        }
    }

    // What earns a promotion where it may apply, and what it gives more for; carts in which pairs are known to meet; and one unit of each
    // item.
    private IEnumerable<Cart> Starts(string[] items)
    {
        var sides = holding.Length > 0 ? holding.Select(around.SideOf) : near.Value;
        foreach (var side in sides)
        {
            EquatableArray<Line>[] lines = [.. side.Earning.Concat(AtSteps(side, items))];
            foreach (var setting in SettingsOf(side))
            foreach (var some in lines)
                yield return setting with
                {
                    Lines = some,
                };
        }

        foreach (var seen in around.Seen.Where(seen => holding.All(seen.Priced.HasApplied)))
            yield return WithAllCodes(seen.Cart);
        foreach (var sku in items)
            yield return circumstances.Plainest with
            {
                Lines = [new(sku, 1)],
            };
    }

    private IEnumerable<EquatableArray<Line>> AtSteps(Side side, string[] items) =>
        from sku in items.Where(side.Alone.LooksAt).Take(ItemsAtSteps)
        from units in UnitSteps.Of(side.Promotion, CurrentPrice(sku), around.Catalogue.Store)
        select (EquatableArray<Line>)[new Line(sku, units)];

    // The numbers of units of one item at which any of them gives more, the least first.
    private IReadOnlyList<int> StepsOf(string sku)
    {
        if (!steps.TryGetValue(sku, out var found))
            steps[sku] = found = [
                .. near
                    .Value.Concat(holding.Select(around.SideOf))
                    .Where(side => side.Alone.LooksAt(sku))
                    .SelectMany(side => UnitSteps.Of(side.Promotion, CurrentPrice(sku), around.Catalogue.Store))
                    .Distinct()
                    .Order(),
            ];
        return found;
    }

    private long CurrentPrice(string sku) => around.Catalogue.PricesIn(around.Catalogue.Store.Currency).Current(sold[sku]);

    // Of very many, those of which a cart with others is known.
    private IEnumerable<Side> Near() =>
        around.Rulebook.Count <= MostWithoutMeeting
            ? around.Sides
            : around.Seen.SelectMany(seen => seen.Priced.Applied).Select(outcome => around.SideOf(outcome.Promotion.Id)).Distinct();

    private IEnumerable<Cart> SettingsOf(Side side)
    {
        var pair = new Pair(side, side);
        return side
            .Ways.SelectMany(way => new Settings(way, pair).First(SettingsTried))
            .Append(circumstances.Plainest)
            .Where(cart => cart.At <= around.Now + bounds.Ahead)
            .Select(WithAllCodes);
    }

    // A shopper who knows all codes.
    private Cart WithAllCodes(Cart cart) => cart with { Codes = circumstances.Plainest.Codes };

    private IEnumerable<Cart> Neighbours(Cart cart, string[] items)
    {
        for (var place = 0; place < cart.Lines.Count; place++)
        {
            var line = cart.Lines[place];
            var atSteps = StepsOf(line.Sku);
            int[] numbers =
            [
                line.Quantity + 1,
                line.Quantity - 1,
                line.Quantity / 2,
                line.Quantity * 2,
                atSteps.FirstOrDefault(units => units > line.Quantity),
                atSteps.LastOrDefault(units => units < line.Quantity),
            ];
            foreach (var units in numbers.Distinct())
                if (units > 0 && units != line.Quantity)
                    yield return With(place, line with { Quantity = units });
            if (cart.Lines.Count > 1)
                yield return cart with
                {
                    Lines = [.. cart.Lines.Where((_, other) => other != place)],
                };
        }

        foreach (var other in circumstances.Beside(cart))
            yield return other;
        foreach (var sku in items)
            if (cart.Lines.All(line => line.Sku != sku))
            {
                yield return cart with
                {
                    Lines = [.. cart.Lines, new(sku, 1)],
                };
                for (var place = 0; place < cart.Lines.Count; place++)
                    yield return With(place, cart.Lines[place] with { Sku = sku });
            }

        foreach (var side in near.Value)
        foreach (var lines in side.Earning.Take(1))
            yield return cart with
            {
                Lines = CartsOfPair.Merged(cart.Lines, lines, Math.Max),
            };

        Cart With(int place, Line line) => cart with { Lines = [.. cart.Lines.Select((old, other) => other == place ? line : old)] };
    }

    // How deep a cart is; null: it does not hold what it must, or that cannot be told.
    private Depth? Look(Cart cart)
    {
        gone.ThrowIfCancellationRequested();
        var priced = around.Rulebook.Price(cart, gone: gone, batchCodes: around.BatchCodes, left: around.Left);
        tried++;
        spent += priced.Work + ToPrice;
        if (!Array.TrueForAll(holding, priced.HasApplied))
            return null;
        Saw?.Invoke(priced);
        if (Depth.Of(priced, by) is not { } here)
            return null;
        if (deepest is null || here < depth)
            (deepest, depth) = (priced, here);
        return here;
    }

    private bool IsWithin(Cart cart)
    {
        var prices = around.Catalogue.PricesIn(cart.Currency ?? around.Catalogue.Store.Currency);
        return cart.Lines.All(line => sold.ContainsKey(line.Sku))
            && cart.Lines.Sum(line => (long)line.Quantity) <= bounds.Units
            && !(cart.Lines.Sum(line => line.Quantity * prices.Current(sold[line.Sku])) > bounds.Spend);
    }

    // What is for sale, of known cost, and not below it anyway.
    private IEnumerable<int> Sold()
    {
        var catalogue = around.Catalogue;
        return Enumerable
            .Range(0, catalogue.Count)
            .Where(item => !catalogue.Variant(item).Gone && catalogue.Store.Currencies.All(IsSold(item)));

        Func<Currency, bool> IsSold(int item) =>
            currency =>
                catalogue.PricesIn(currency) is var prices
                && prices.Current(item) > 0
                && prices.Cost(item) is not null
                && (bounds.WithLosses || catalogue.MarginShare(item, prices.Current(item), currency) >= 0);
    }

    // Of items that no selection tells apart the one that earns least, the cheapest and the dearest; what most selections hold first.
    private IEnumerable<string> Telling()
    {
        var prices = around.Catalogue.PricesIn(around.Catalogue.Store.Currency);
        var first = holding.SelectMany(id => around.SideOf(id).Promotion.Selections());
        int[][] selections =
        [
            .. first
                .Concat(around.Rulebook.Promotions.SelectMany(promotion => promotion.Selections()))
                .Distinct()
                .Take(MostSelections)
                .Select(around.Select),
        ];
        var kinds = sold.Values.ToDictionary(item => item, _ => 0L);
        for (var place = 0; place < selections.Length; place++)
            foreach (var item in selections[place].Where(kinds.ContainsKey))
                kinds[item] |= 1L << place;
        return kinds
            .GroupBy(entry => entry.Value, entry => entry.Key)
            .OrderByDescending(kind => System.Numerics.BitOperations.PopCount((ulong)kind.Key))
            .SelectMany(kind => new[] { kind.MinBy(Earned), kind.MinBy(prices.Current), kind.MaxBy(prices.Current) })
            .Distinct()
            .Take(MostItems)
            .Select(item => around.Catalogue.Variant(item).Sku);

        decimal? Earned(int item) => around.Catalogue.MarginShare(item, prices.Current(item), prices.Currency);
    }

    private static string Key(Cart cart) =>
        string.Join(
            '\n',
            (IEnumerable<object?>)
                [
                    cart.At,
                    cart.Currency?.Code,
                    cart.Channel,
                    cart.Method,
                    cart.Destination,
                    cart.Shopper,
                    string.Join(' ', cart.Codes.Order(StringComparer.Ordinal)),
                    .. cart.Lines.Select(line => $"{line.Sku} {line.Quantity}").Order(StringComparer.Ordinal),
                ]
        );
}
