namespace RapidLedger.Pricing;

/// <summary>
/// Carts that this promotion together with live ones sells below cost, or below the margin floor, and neither it alone nor they without it.
/// </summary>
internal sealed class BelowCostTogether : Check
{
    private const int Most = 2;
    private const int MostLookedAt = 24;

    public override string Name => "belowCostTogether";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        var met = around.Meet(promotion);
        var told = new List<Loss>();
        var about = new HashSet<string>(StringComparer.Ordinal);
        foreach (var limit in (decimal[])[0, .. around.Store.MarginFloor is { Value: > 0 } floor ? [floor.Value] : Array.Empty<decimal>()])
        {
            var losses = Losses(promotion, met, limit).ToArray();
            var left = Most;
            // What happens to a shopper who types no code comes before what needs one.
            foreach (var loss in losses.OrderBy(loss => loss.Others.Count).ThenBy(loss => loss.Others.Count(other => other.IsByCode)))
            {
                // With more beside it, it is sold below all the more; and what is below cost is told as that.
                if (left == 0 || told.Any(less => less.Others.All(loss.Others.Contains)))
                    continue;
                // Each finding is about another one, by which it is told from the rest.
                if (loss.Others.FirstOrDefault(other => about.Add(other.Id)) is not { } one)
                    continue;
                told.Add(loss);
                left--;
                var smallest = loss.Smallest(promotion, met, limit);
                Loss[] alike = [smallest, .. losses.Where(less => less.Others.SequenceEqual(loss.Others))];
                var mend = Less(promotion, met, alike, limit, around) ?? Apart(promotion, loss, met, limit);
                yield return Say(smallest, limit, mend, around) with
                {
                    Other = one.Id,
                };
            }
        }
    }

    private Finding Say(Loss loss, decimal limit, Mend? mend, Surroundings around)
    {
        var names = Wording.Join(loss.Others.Select(Meets.Named), "and");
        var figures = loss.Say(around.Wording);
        return limit == 0
            ? Doubt("/stacking", $"With {names} it sells below cost: {figures}.", mend)
            : Remark(
                "/stacking",
                $"With {names} a cart earns less than the floor of {around.Wording.Say(around.Store.MarginFloor!.Value)}: {figures}.",
                mend
            );
    }

    private sealed record Loss(IReadOnlyList<Promotion> Others, PricedCart Priced)
    {
        /// <summary>Whether all live promotions sell the cart below without it too.</summary>
        public bool IsBelowAnyway { get; init; }

        /// <summary>Whether with another one in its place the cart is not sold below: by all, or by these where all do so anyway.</summary>
        public bool IsMendedBy(Promotion instead, Encounters met, decimal limit) =>
            !IsBelow(IsBelowAnyway ? met.PriceWith(Priced.Cart, [instead, .. Others]) : met.PriceInstead(Priced.Cart, instead), limit);

        /// <summary>The same in the smallest cart found that these promotions sell below.</summary>
        public Loss Smallest(Promotion promotion, Encounters met, decimal limit) =>
            this with
            {
                Priced = met.Smallest(
                    Priced.Cart,
                    cart => met.PriceWith(cart, [promotion, .. Others]),
                    priced =>
                        IsBelow(priced, limit)
                        && priced.Applied.Count > Others.Count
                        && !IsBelow(met.PriceWith(priced.Cart, Others), limit)
                        && !IsBelow(met.PriceWith(priced.Cart, [promotion]), limit)
                ),
            };

        public string Say(Wording wording)
        {
            var (totals, currency) = (Priced.Totals, Priced.Currency);
            var left =
                totals.Margin < 0
                    ? $"a loss of {wording.Say(-totals.Margin!.Value, currency)}"
                    : $"{wording.Say(totals.Margin!.Value, currency)} of margin, {100 * Priced.MarginShare:0.#} %";
            return $"{WitnessWords.Goods(Priced.Cart, wording)} for {wording.Say(totals.Net, currency)}, {left}{WitnessWords.ForWhom(Priced.Cart, wording)}";
        }
    }

    // The deepest first; of several that are as deep the smallest.
    private static IEnumerable<Loss> Losses(Promotion promotion, Encounters met, decimal limit)
    {
        var below = met
            .Seen.Where(priced => IsBelow(priced, limit))
            .OrderBy(priced => Depth.Of(priced, DeepestBy.MarginPercent))
            .ThenBy(priced => priced.Cart.Lines.Sum(line => (long)line.Quantity))
            .DistinctBy(priced => string.Join(' ', priced.Applied.Select(outcome => outcome.Promotion.Id)));
        foreach (var priced in below.Take(MostLookedAt).TakeWhile(_ => !met.IsTired))
        {
            var cart = priced.Cart;
            Promotion[] beside =
            [
                .. priced
                    .Applied.Where(outcome => outcome.Promotion.Id != promotion.Id && outcome.Promotion.Card is null)
                    .OrderByDescending(outcome => outcome.Amount)
                    .Select(outcome => outcome.Promotion),
            ];
            if (beside.Length == 0 || IsBelow(met.PriceWith(cart, [promotion]), limit))
                continue;
            var isBelowAnyway = IsBelow(met.PriceInstead(cart, null), limit);
            // Of what is below anyway only what it and one other do to the same line is its own doing.
            foreach (var loss in Needed(promotion, beside, cart, met, limit))
                if (!isBelowAnyway || (loss.Others is [var other] && Shared.In(loss.Priced, promotion, other) is not null))
                    yield return loss with
                    {
                        IsBelowAnyway = isBelowAnyway,
                    };
        }
    }

    private static bool IsBelow(PricedCart priced, decimal limit) =>
        priced.Totals.Margin is { } margin && (priced.MarginShare is { } share ? share * 100 < limit : margin < 0);

    // Each of those beside it with which alone the same cart is sold below, and not by that one without it; where there is none, the
    // fewest, whoever takes most first.
    private static IEnumerable<Loss> Needed(Promotion promotion, Promotion[] beside, Cart cart, Encounters met, decimal limit)
    {
        Loss[] single = [.. beside.Select(one => Beside(one)).OfType<Loss>()];
        return single.Length > 0
            ? single
            : Enumerable.Range(2, beside.Length - 1).Select(count => Beside(beside[..count])).OfType<Loss>().Take(1);

        Loss? Beside(params Promotion[] few) =>
            met.PriceWith(cart, [promotion, .. few]) is var priced && IsBelow(priced, limit) && !IsBelow(met.PriceWith(cart, few), limit)
                ? new(few, priced)
                : null;
    }

    // Kept apart from one of them, if that mends the cart that is spoken of.
    private static Mend? Apart(Promotion promotion, Loss loss, Encounters met, decimal limit) =>
        promotion.Stacking is not null
            ? null
            : loss
                .Others.Where(other =>
                    loss.IsMendedBy(
                        promotion with
                        {
                            Stacking = new Stacking(Allow.Except, [new StackingEntry.OfPromotion(other.Id)]),
                        },
                        met,
                        limit
                    )
                )
                .Select(other => Meets.Apart(promotion, other))
                .FirstOrDefault();

    // The most that its one discount can take with which none of the carts that were found with the same others is sold below.
    private static Mend? Less(Promotion promotion, Encounters met, Loss[] losses, decimal limit, Surroundings around)
    {
        if (
            met.IsTired
            || promotion.Rewards is not [Discount discount]
            || SmallerTake.Of(
                discount.Take,
                losses.SelectMany(loss => loss.Priced.Cart.Lines).Max(line => around.Prices.Current(around.Catalogue.Find(line.Sku))),
                around.Store
            )
                is not { } takings
        )
            return null;
        var most = takings.Most(take =>
            Array.TrueForAll(losses, loss => loss.IsMendedBy(promotion with { Rewards = [discount with { Take = take }] }, met, limit))
        );
        return most is { } value
            ? takings.Mend(
                value,
                "/rewards/0/take",
                limit == 0 ? "the most with which this is not sold below cost" : "the most with which this keeps the floor"
            )
            : null;
    }
}
