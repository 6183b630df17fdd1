namespace RapidLedger.Pricing;

/// <summary>Looks for a cart in which two promotions both apply, which nothing written rules out; else for one in which one wins.</summary>
internal sealed class WitnessSearch
{
    // What a pricing costs beside the choice.
    private const long ToPrice = 400;

    // What it costs to see whether two are eligible.
    private const long ToLook = 40;
    private const int FewSettings = 7;
    private const int MostDisplaced = 12;
    private const int MostLooksForWinner = 40;
    private const int MostShrinking = 60;

    // A cart that was found is made smaller beyond the work given, but where choosing is hard not without end.
    private const int MostOverWork = 2;

    // In a rulebook of so few, another may be what lets the two meet: then a cart is priced with all of them, whatever the two alone do.
    private const int Few = 12;

    private static readonly Dictionary<string, Usage> NothingUsed = [];

    private readonly Pair pair;
    private readonly long work;
    private readonly SeenCarts seen;
    private readonly CancellationToken gone;
    private readonly Rulebook all;
    private readonly Rulebook two;
    private readonly List<EquatableArray<Line>> displaced = [];
    private long spent;
    private int looks;
    private Witness? winner;

    private WitnessSearch(Pair pair, long work, SeenCarts seen, CancellationToken gone)
    {
        (this.pair, this.work, this.seen, this.gone) = (pair, work, seen, gone);
        all = pair.Around.Rulebook;
        two = all.Count == 2 ? all : pair.Around.Nothing.With([pair.One.Promotion, pair.Other.Promotion], []);
    }

    /// <summary>What is found.</summary>
    /// <param name="pair">The two.</param>
    /// <param name="work">How much may be put into it.</param>
    /// <param name="seen">What is known of all pairs; what is found on the way is added.</param>
    /// <param name="gone">Says that nobody waits any more.</param>
    /// <param name="put">Is told how much was put into it.</param>
    public static Meeting Of(Pair pair, long work, SeenCarts seen, CancellationToken gone, Action<long> put)
    {
        var search = new WitnessSearch(pair, work, seen, gone);
        var meeting = search.Meeting();
        put(search.spent);
        return meeting;
    }

    private Meeting Meeting()
    {
        var (one, other, say) = (pair.One.Promotion, pair.Other.Promotion, pair.Around.Wording);
        if (Found() is { } found)
        {
            var smallest = Shrunk(found);
            return new(
                one,
                other,
                MeetingVerdict.Can,
                $"Both apply to {WitnessWords.Say(smallest.Cart, say)}: {WitnessWords.Takes(one, smallest, say)}, {WitnessWords.Takes(other, smallest, say)}.",
                null,
                smallest
            );
        }

        if (winner is { } won)
        {
            var (first, second) = won.Takes(one) is null ? (other, one) : (one, other);
            return new(
                one,
                other,
                MeetingVerdict.OneWins,
                $"No cart was found in which both apply. On {WitnessWords.Say(won.Cart, say)} both could, and “{first.Named}” goes before “{second.Named}”: {WitnessWords.Takes(first, won, say)}.",
                null,
                won
            );
        }

        return new(
            one,
            other,
            MeetingVerdict.NotFound,
            $"Nothing written rules it out, and no cart was found in which “{one.Named}” and “{other.Named}” both apply."
        );
    }

    private Witness? Found()
    {
        if (seen.SmallestOf(pair.One.Promotion.Id, pair.Other.Promotion.Id) is { } known)
            return known;
        IReadOnlyList<Demand>[] ways = [.. pair.Ways.Where(way => ConditionGround.All.All(ground => ground.Allows(way, pair)))];
        var carts = ways.Select(way => (Carts: new CartsOfPair(pair, way), Settings: new Settings(way, pair))).ToArray();
        // Of each way first what is plain and likely, so that none takes the work of all.
        foreach (var (settings, part) in ((int, int)[])[(1, 4), (FewSettings, 4), (int.MaxValue, 2)])
        foreach (var way in carts)
            if (InAny(way.Settings.First(settings), way.Carts.Likely, work / part / carts.Length) is { } likely)
                return likely;
        foreach (var (settings, part) in ((int, int)[])[(FewSettings, 2), (int.MaxValue, 1)])
        foreach (var way in carts)
            if (InAny(way.Settings.First(settings), way.Carts.Every, work / part / carts.Length) is { } any)
                return any;
        return null;
    }

    private Witness? InAny(IEnumerable<Cart> settings, IEnumerable<EquatableArray<Line>> fillings, long share)
    {
        var end = Math.Min(work, spent + share);
        foreach (var setting in settings)
        // Where a third one was in the way, it may not be so elsewhere.
        foreach (var lines in displaced.ToArray().Concat(fillings))
            if (spent >= end)
                return null;
            else if (Try(setting with { Lines = lines }) is { } found)
                return found;
        return null;
    }

    private Witness? Try(Cart cart)
    {
        if (!MayApply(cart))
            return null;
        var alone = Price(two, cart);
        var meet = Both(alone);
        if (!meet)
            LookForWinner(alone);
        if (two == all)
            return meet ? Remember(alone) : null;

        if (!meet && all.Count > Few)
            return null;
        var priced = Price(all, cart);
        var witness = Remember(priced);
        if (Both(priced))
            return witness;
        // Beside the others only one of them does: one that keeps the other out wins for it.
        if (meet && priced.HasApplied(pair.One.Promotion.Id) != priced.HasApplied(pair.Other.Promotion.Id))
            winner ??= witness;
        if (meet && displaced.Count < MostDisplaced && !displaced.Contains(cart.Lines))
            displaced.Add(cart.Lines);
        return null;
    }

    // Whether the conditions of both hold, as far as markdowns leave that to be told before prices are made.
    private bool MayApply(Cart cart)
    {
        spent += ToLook;
        var view = new CartView(cart, all.Catalogue);
        var eligibility = Eligibility.Of(cart, NothingUsed, pair.Around.BatchCodes);
        return IsEligible(pair.One) && IsEligible(pair.Other);

        bool IsEligible(Side side) =>
            (pair.Around.HasMarkdowns && side.AsksForPrices) || eligibility.FirstObstacle(side.Compiled, view) == Obstacle.None;
    }

    // The smallest cart in which both could apply, alone and beside each other, and only one does.
    private void LookForWinner(PricedCart alone)
    {
        if (winner is not null || looks >= MostLooksForWinner || alone.Applied.Count != 1)
            return;
        looks++;
        var lost = alone.Outcomes.First(outcome => !outcome.Applied);
        if (!Could(lost, alone.Cart))
            return;
        var priced = two == all ? alone : Price(all, alone.Cart);
        if (priced.HasApplied(alone.Applied[0].Promotion.Id) && priced.Find(lost.Promotion) is null)
            winner = new(priced, pair.Around.CodesIn(alone.Cart));
    }

    // It was looked at, does something alone, and something else was chosen, or took from it by a markdown what it looks at.
    private bool Could(Outcome lost, Cart cart) =>
        lost.Reason switch
        {
            Reason.NotBetter or Reason.NothingLeft => true,
            Reason.ConditionNotMet(var gaps) => gaps.All(gap => gap is Gap.SpendShort { After: true } or Gap.SpendOver { After: true }),
            Reason.NoMatchingItems => Price(pair.Around.Nothing.With(lost.Promotion), cart).Applied.Count > 0,
            _ => false,
        };

    // One unit less, one line less, half of a line, as long as both still apply.
    private Witness Shrunk(Witness found)
    {
        var tries = 0;
        for (var smaller = true; smaller && tries < MostShrinking; )
        {
            smaller = false;
            foreach (var lines in Smaller(found.Cart.Lines))
            {
                if (++tries > MostShrinking || spent > MostOverWork * work)
                    break;
                var priced = Price(all, found.Cart with { Lines = lines });
                if (!Both(priced))
                    continue;
                (found, smaller) = (Remember(priced), true);
                break;
            }
        }

        return found;
    }

    /// <summary>Lines with a line less, half of one, a unit less of one.</summary>
    public static IEnumerable<EquatableArray<Line>> Smaller(EquatableArray<Line> lines)
    {
        for (var place = 0; place < lines.Count; place++)
        {
            if (lines.Count > 1)
                yield return [.. lines.Where((_, other) => other != place)];
            foreach (var units in new[] { lines[place].Quantity / 2, lines[place].Quantity - 1 }.Distinct())
                if (units > 0)
                    yield return [.. lines.Select((line, other) => other == place ? line with { Quantity = units } : line)];
        }
    }

    private PricedCart Price(Rulebook rulebook, Cart cart)
    {
        gone.ThrowIfCancellationRequested();
        var priced = rulebook.Price(cart, gone: gone, batchCodes: pair.Around.BatchCodes, left: pair.Around.Left);
        spent += priced.Work + ToPrice;
        return priced;
    }

    private bool Both(PricedCart priced) => priced.HasApplied(pair.One.Promotion.Id) && priced.HasApplied(pair.Other.Promotion.Id);

    private Witness Remember(PricedCart priced)
    {
        var witness = new Witness(priced, pair.Around.CodesIn(priced.Cart));
        seen.Add(witness);
        return witness;
    }
}
