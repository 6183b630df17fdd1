namespace RapidLedger.Pricing;

/// <summary>A sentence that a shopper reads, and when.</summary>
/// <param name="Situation">just short, reached, more than that, or why a code is refused.</param>
/// <param name="Sentence">As the shopper reads it.</param>
public sealed record SaidToShopper(string Situation, string Sentence);

/// <summary>
/// The finished sentences of a promotion, for carts just short of it, at it and over it, and for each way in which it is refused.
/// </summary>
public static class SaysPreview
{
    private const int MostUnits = PriceCurve.Most;

    /// <summary>The sentences in one language.</summary>
    /// <param name="alone">A rulebook of the promotion alone, as if it were started and open.</param>
    /// <param name="promotion">As written.</param>
    /// <param name="cart">Whose buyer, destination and language are taken; its lines are not.</param>
    /// <param name="sku">The item of which more and more is put in.</param>
    /// <param name="wording">In the cart's currency.</param>
    public static IEnumerable<SaidToShopper> Of(Rulebook alone, Promotion promotion, Cart cart, string sku, Wording wording)
    {
        wording = wording.InLanguage(cart.Language);
        PricedCart? last = null;
        Reason? notMet = null;
        for (var units = 1; units <= MostUnits; units++)
        {
            var priced = alone.Price(cart with { Lines = [new(sku, units)] });
            if (priced.Applied.Count == 0)
            {
                (last, notMet) = (priced, priced.Outcomes[0].Reason);
                continue;
            }

            if (last is not null && Near(last, wording) is { } near)
                yield return new("just short", near);
            yield return new("reached", wording.Tell(priced.Applied[0]));
            var more = alone.Price(cart with { Lines = [new(sku, units + 1)] });
            if (more.Applied.Count > 0)
                yield return new("with one more", wording.Tell(more.Applied[0]));
            if (more.Nudges.Count > 0)
                yield return new("on the way to more", wording.Tell(more.Nudges[0]));
            break;
        }

        if (promotion.Trigger is null or { IsAutomatic: true })
            yield break;
        (string Situation, Reason Reason)?[] refusals =
        [
            promotion.Window?.Start is { } start ? ("not begun", new Reason.NotStarted(start, 0)) : null,
            promotion.Window?.End is { } end ? ("ended", new Reason.Ended(end, 0)) : null,
            promotion.Limits is { Total: not null } or { PerDay: not null } or { Budget: not null }
                ? ("used up", new Reason.LimitReached(Limit.Total, 1, 1))
                : null,
            promotion.Limits?.PerShopper is not null ? ("used by this shopper", new Reason.LimitReached(Limit.PerShopper, 1, 1)) : null,
            notMet is not null ? ("not met", notMet) : null,
            promotion.Trigger.Batches.Count > 0 ? ("code used up", new Reason.CodeSpent("", CodeFault.UsedUp, null)) : null,
            promotion.Trigger.Batches.Count > 0 ? ("code void", new Reason.CodeSpent("", CodeFault.Void, null)) : null,
            ("no better", new Reason.NotBetter(Verdict.Less, [], 1)),
        ];
        foreach (var (situation, reason) in refusals.OfType<(string Situation, Reason Reason)>())
            yield return new(situation, wording.Tell(new CodeStatus("", promotion, reason)));
        yield return new("code unknown", wording.Tell(new CodeStatus("", null, null)));
    }

    private static string? Near(PricedCart priced, Wording wording) =>
        priced.Nudges.Count > 0
            ? wording.Tell(priced.Nudges[0])
            : priced
                .Progress.SelectMany(progress => progress.Steps.Where(step => !step.Reached).Select(step => progress.Tell(step, wording)))
                .FirstOrDefault();
}
