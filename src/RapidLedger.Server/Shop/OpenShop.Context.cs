using NodaTime;
using NodaTime.Text;
using RapidLedger.Pricing;
using RapidLedger.Storage;

namespace RapidLedger.Server.Shop;

// What surrounds the pricing of a cart: what has been used and is left.
internal sealed partial class OpenShop
{
    /// <summary>
    /// What surrounds the pricing of a cart: as things stand now, but for the uses of the day, which are those of the cart's own.
    /// </summary>
    /// <param name="cart">The cart.</param>
    /// <param name="givable">The SKUs that the promotions could give.</param>
    /// <param name="inside">The transaction in which it is read; null: one of its own.</param>
    /// <param name="absent">A held order that counts as if it were not there; null: none.</param>
    /// <param name="effort">As a multiple of the default; null: as the shop has set it.</param>
    public PricingContext ContextOf(
        Cart cart,
        IReadOnlyCollection<string> givable,
        OrderTransaction? inside = null,
        StoredOrder? absent = null,
        int? effort = null
    )
    {
        if (inside is null)
            return orders.Read(transaction => ContextOf(cart, givable, transaction, absent, effort));
        var (day, shopper) = (DayOf(cart.At), ShopperOf(cart, inside));
        var context = new PricingContext(
            Usage(day, shopper, inside),
            cart.Codes.Count == 0 ? NoCodes : Standing(inside.Standing(cart.Codes.Select(code => Trigger.Bare(Trigger.Normal(code))))),
            Left(inside.Sold(givable)),
            effort ?? Settings.Effort
        );
        return absent is null ? context : Without(context, absent, day, shopper, inside);
    }

    /// <summary>Who buys, as uses are counted: an id, or what stands for a guest; null: nobody that is known.</summary>
    public static string? ShopperOf(Cart cart, OrderTransaction inside) =>
        cart.Shopper is { } shopper ? shopper.Id
        : cart.GuestKey is { } key ? inside.GuestOf(key)
        : null;

    /// <summary>What has been used until now, by promotion; today is the day of a moment.</summary>
    public IReadOnlyDictionary<string, Usage> UsageAt(Instant at) => orders.Read(transaction => Usage(DayOf(at), null, transaction));

    /// <summary>The store's date at a moment, as uses are counted by it: ISO 8601.</summary>
    public string DayOf(Instant at) => LocalDatePattern.Iso.Format(at.InZone(Store.Zone).Date);

    /// <summary>Until when a price holds, as far as windows and days tell: at most to midnight in the shop.</summary>
    public Instant ValidUntil(Rulebook rulebook, Instant at)
    {
        var zone = Store.Zone;
        var midnight = at.InZone(zone).Date.PlusDays(1).AtStartOfDayInZone(zone).ToInstant();
        return rulebook.NextTurn(at) is { } turn && turn < midnight ? turn : midnight;
    }

    // The counters as they are, read anew when something was used. Inside a write they may be ahead of what is kept here, and are not kept.
    private IReadOnlyDictionary<string, Usage> Usage(string day, string? shopper, OrderTransaction transaction)
    {
        var uses = transaction.Uses();
        if (usage is not { } known || known.Uses != uses || known.Day != day)
        {
            known = new(
                uses,
                day,
                transaction.Usage(day, null).ToDictionary(used => used.PromotionId, used => used.Usage, StringComparer.Ordinal)
            );
            if (!transaction.IsWriting)
                usage = known;
        }

        var own = shopper is null ? [] : transaction.UsesBy(shopper);
        if (own.Count == 0)
            return known.ById;
        var seen = new Dictionary<string, Usage>(known.ById, StringComparer.Ordinal);
        foreach (var (promotion, count) in own)
            seen[promotion] = seen.GetValueOrDefault(promotion, Pricing.Usage.None) with { Shopper = count };
        return seen;
    }

    // The same with what a held order uses taken out.
    private static PricingContext Without(
        PricingContext context,
        StoredOrder absent,
        string day,
        string? shopper,
        OrderTransaction transaction
    )
    {
        var usage = new Dictionary<string, Usage>(context.Usage, StringComparer.Ordinal);
        foreach (var use in transaction.UsesOf(absent.Id))
        {
            if (!usage.TryGetValue(use.Promotion, out var used))
                continue;
            usage[use.Promotion] = new(
                used.Total - 1,
                shopper is not null && absent.Shopper == shopper ? used.Shopper - 1 : used.Shopper,
                absent.Day == day ? used.Today - 1 : used.Today,
                used.Budget - use.Amount,
                used.Drawn - use.Drawn
            );
        }

        var codes = new Dictionary<string, BatchCode>(context.Codes, StringComparer.Ordinal);
        foreach (var code in transaction.CodesOf(absent.Id))
            if (codes.TryGetValue(code.Bare, out var used))
                codes[code.Bare] = used with { Used = used.Used - 1, Drawn = used.Drawn - code.Drawn };
        var left = new Dictionary<string, long>(context.Left, StringComparer.Ordinal);
        foreach (var unit in transaction.UnitsOf(absent.Id))
            if (left.TryGetValue(unit.Sku, out var rest))
                left[unit.Sku] = rest + unit.Units;
        return context with { Usage = usage, Codes = codes, Left = left };
    }

    /// <summary>What is left of some SKUs; those of which it is as the catalogue says are left out.</summary>
    public IReadOnlyDictionary<string, long> Left(IReadOnlyCollection<string> skus) =>
        skus.Count == 0 ? new Dictionary<string, long>() : Left(orders.Read(transaction => transaction.Sold(skus)));

    /// <summary>What is left of SKUs of which some was sold, or that were counted: below zero where more was sold than there was.</summary>
    public Dictionary<string, long> Left(IEnumerable<SoldUnits> sold)
    {
        var left = new Dictionary<string, long>(StringComparer.Ordinal);
        foreach (var entry in sold)
            if (
                (entry.Counted ?? (Catalogue.Find(entry.Sku) is >= 0 and var variant ? Catalogue.Variant(variant).Stock : null)) is
                { } stock
            )
                left[entry.Sku] = stock - entry.Units;
        return left;
    }

    /// <summary>Codes of batches as pricing takes them.</summary>
    public static Dictionary<string, BatchCode> Standing(IEnumerable<StandingCode> found) =>
        found.ToDictionary(
            code => code.Bare,
            code => new BatchCode(
                code.BatchId,
                code.Void,
                code.Used,
                code.UsesEach,
                code.LastDay is { } day ? LocalDatePattern.Iso.Parse(day).Value : null,
                code.Drawn
            ),
            StringComparer.Ordinal
        );

    private sealed record KnownUsage(long Uses, string Day, Dictionary<string, Usage> ById);
}
