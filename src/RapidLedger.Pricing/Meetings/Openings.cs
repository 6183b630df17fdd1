using NodaTime;

namespace RapidLedger.Pricing;

/// <summary>A moment at which two promotions are both open.</summary>
/// <param name="At">The first of them; null: there is none, or none was found.</param>
/// <param name="IsNever">There is none, all their times have been gone through.</param>
internal readonly record struct CommonMoment(Instant? At, bool IsNever);

/// <summary>When promotions are open together, each pair of windows looked at once.</summary>
internal sealed class Openings
{
    // So many openings of both are gone through: of two that open daily all there are.
    private const int Most = 300_000;

    private readonly Dictionary<(Window, Window), (Instant From, CommonMoment Found)> known = [];

    /// <summary>When one promotion is open first from a moment on; null: never again.</summary>
    public static Instant? First(CompiledPromotion promotion, Instant from) =>
        Spells(promotion, from).Select(spell => (Instant?)spell.Opens).FirstOrDefault();

    /// <summary>When two are open together first from a moment on.</summary>
    public CommonMoment Common(Side one, Side other, Instant from)
    {
        if (one.Promotion.Window is not { } window || other.Promotion.Window is not { } second)
        {
            var first = First((one.Promotion.Window is null ? other : one).Compiled, from);
            return new(first, first is null);
        }

        // What is known from a moment on holds from a later one until what was found.
        var key = (window, second);
        if (known.TryGetValue(key, out var found) && found.From <= from && (found.Found.At is null || found.Found.At >= from))
            return found.Found;
        var common = Walk(one.Compiled, other.Compiled, from);
        known[key] = (from, common);
        return common;
    }

    // Each time one opens it is asked whether the other is still open: it has opened before.
    private CommonMoment Walk(CompiledPromotion one, CompiledPromotion other, Instant from)
    {
        using var first = Spells(one, from).GetEnumerator();
        using var second = Spells(other, from).GetEnumerator();
        var (hasFirst, hasSecond) = (first.MoveNext(), second.MoveNext());
        var (closesFirst, closesSecond) = (Instant.MinValue, Instant.MinValue);
        for (var count = 0; hasFirst || hasSecond; count++)
        {
            if (count == Most)
                return new(null, false);
            // Nothing of one comes any more, and the other opens later.
            if ((!hasFirst && second.Current.Opens >= closesFirst) || (!hasSecond && first.Current.Opens >= closesSecond))
                break;
            if (hasFirst && (!hasSecond || first.Current.Opens <= second.Current.Opens))
            {
                if (first.Current.Opens < closesSecond)
                    return new(first.Current.Opens, false);
                closesFirst = Instant.Max(closesFirst, first.Current.Closes);
                hasFirst = first.MoveNext();
            }
            else
            {
                if (second.Current.Opens < closesFirst)
                    return new(second.Current.Opens, false);
                closesSecond = Instant.Max(closesSecond, second.Current.Closes);
                hasSecond = second.MoveNext();
            }
        }

        return new(null, true);
    }

    // The stretches in which it is open from a moment on, in order of opening.
    private static IEnumerable<OpenWindow> Spells(CompiledPromotion promotion, Instant from)
    {
        var whole = promotion.Window;
        if (promotion.Occurrences is not { } occurrences)
            return whole.Closes > from ? [whole with { Opens = Instant.Max(whole.Opens, from) }] : [];
        return occurrences
            .From(from)
            .Select(one => new OpenWindow(Instant.Max(Instant.Max(one.Opens, whole.Opens), from), Instant.Min(one.Closes, whole.Closes)))
            .Where(spell => spell.Opens < spell.Closes);
    }
}
