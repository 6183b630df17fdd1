using NodaTime;

namespace RapidLedger.Pricing;

/// <summary>
/// When and where carts are bought, by whom, how and with which codes, as far as the promotions of a rulebook tell it apart.
/// </summary>
internal sealed class Circumstances
{
    // So many of one thing: more are not gone through, and then nothing is proved.
    private const int MostOfEach = 64;
    private const int MostLookedAt = 4_000;
    private const int MostGroupsInAllSets = 3;
    private const int MostCodesInAllSets = 8;

    // A cart takes so many codes.
    private const int MostCodes = 20;

    private readonly Instant[] moments;
    private readonly string[] channels;
    private readonly Currency?[] currencies;
    private readonly string?[] methods;
    private readonly Place?[] places;
    private readonly Shopper?[] shoppers;
    private readonly string[] codes;

    /// <summary>Of the promotions of a rulebook.</summary>
    /// <param name="around">The rulebook.</param>
    /// <param name="ahead">How far from now on.</param>
    public Circumstances(Meetings around, Duration ahead)
    {
        var store = around.Catalogue.Store;
        var side = around.Sides.First();
        var (anybody, leaves) = (new Pair(side, side), Leaves(around));
        moments = [.. around.Turns.TakeWhile(turn => turn <= around.Now + ahead).Prepend(around.Now).Distinct()];
        currencies = [.. store.Currencies.Select(currency => currency == store.Currency ? (Currency?)null : currency)];
        methods = [.. store.Shipping.Select(method => (string?)method.Id), null];
        channels = [.. ConditionGround.OfChannel.Left([], anybody, leaves)];
        places = [.. ConditionGround.OfPlace.Left([], anybody, leaves)];
        shoppers = [.. ConditionGround.OfSpent.Left([], anybody, leaves).Take(MostLookedAt).DistinctBy(buyer => Seen(buyer, leaves))];
        codes = [.. CodesOf(around)];
        var groups = leaves.Select(leaf => leaf.Condition).OfType<Buyer.InGroup>().SelectMany(buyer => buyer.Groups).Distinct().Count();
        IsComplete =
            new[] { channels.Length, places.Length, shoppers.Length, moments.Length }.All(count => count <= MostOfEach)
            && groups <= MostGroupsInAllSets
            && codes.Length <= MostCodesInAllSets
            && (ahead == Duration.Zero || around.Rulebook.Compiled.All(compiled => compiled.Occurrences is null));
        if (IsComplete)
            return;
        (channels, places, shoppers) = ([.. channels.Take(MostOfEach)], [.. places.Take(MostOfEach)], [.. shoppers.Take(MostOfEach)]);
        (moments, codes) = ([.. moments.Take(MostOfEach)], [.. codes.Take(MostCodes)]);
    }

    /// <summary>Whether <see cref="All"/> leaves out nothing that the promotions tell apart.</summary>
    public bool IsComplete { get; }

    /// <summary>How many there are in all.</summary>
    public decimal Count =>
        (decimal)moments.Length
        * channels.Length
        * currencies.Length
        * methods.Length
        * places.Length
        * shoppers.Length
        * (codes.Length < 63 ? 1L << codes.Length : long.MaxValue);

    /// <summary>The plainest, with every code that is known.</summary>
    public Cart Plainest => new(moments[0], [], currencies[0], channels[0], methods[0], places[0], shoppers[0], [.. codes]);

    /// <summary>Every one, as carts without lines.</summary>
    public IEnumerable<Cart> All =>
        from moment in moments
        from channel in channels
        from currency in currencies
        from method in methods
        from place in places
        from shopper in shoppers
        from some in Enumerable.Range(0, 1 << codes.Length)
        select new Cart(moment, [], currency, channel, method, place, shopper, [.. codes.Where((_, bit) => (some & (1 << bit)) != 0)]);

    /// <summary>The same cart in circumstances that differ in one thing.</summary>
    public IEnumerable<Cart> Beside(Cart cart)
    {
        foreach (var code in codes)
            yield return cart with
            {
                Codes = cart.Codes.Contains(code) ? [.. cart.Codes.Where(other => other != code)] : [.. cart.Codes, code],
            };
        foreach (var shopper in shoppers)
            if (shopper != cart.Shopper)
                yield return cart with
                {
                    Shopper = shopper,
                };
        foreach (var place in places)
            if (place != cart.Destination)
                yield return cart with
                {
                    Destination = place,
                };
        foreach (var method in methods)
            if (method != cart.Method)
                yield return cart with
                {
                    Method = method,
                };
        foreach (var moment in moments)
            if (moment != cart.At)
                yield return cart with
                {
                    At = moment,
                };
        foreach (var channel in channels)
            if (channel != cart.Channel)
                yield return cart with
                {
                    Channel = channel,
                };
        foreach (var currency in currencies)
            if (currency != cart.Currency)
                yield return cart with
                {
                    Currency = currency,
                };
    }

    // What a promotion is started by: each of its own codes would do, and of a batch an invented one.
    private static IEnumerable<string> CodesOf(Meetings around) =>
        around
            .Rulebook.Promotions.Where(promotion => promotion.Trigger?.Codes.Count > 0)
            .Select(promotion => promotion.Trigger!.Codes[0])
            .Concat(around.BatchCodes.Keys)
            .Distinct();

    private static Demand[] Leaves(Meetings around) =>
        [
            .. around
                .Rulebook.Promotions.SelectMany(Parts.Conditions)
                .Select(entry => entry.Condition)
                .Where(condition => condition is Buyer or Destination or Channel)
                .Distinct()
                .Select(condition => new Demand(condition, true)),
        ];

    // Buyers of whom all promotions think alike are one.
    private static string Seen(Shopper? shopper, Demand[] leaves) =>
        string.Concat(leaves.Select(leaf => leaf.Condition).OfType<Buyer>().Select(buyer => buyer.Is(shopper) ? '1' : '0'));
}
