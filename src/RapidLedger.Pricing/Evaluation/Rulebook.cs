using NodaTime;

namespace RapidLedger.Pricing;

/// <summary>
/// The live promotions of a store, compiled and indexed: compile once, price many times, from any thread.
/// </summary>
public sealed class Rulebook
{
    /// <summary>The most effort that a pricing may be given.</summary>
    public const int MostEffort = 1_000;

    private static readonly IReadOnlyDictionary<string, Usage> NothingUsed = new Dictionary<string, Usage>();
    private static readonly IReadOnlyDictionary<string, BatchCode> NoBatchCodes = new Dictionary<string, BatchCode>();

    private readonly LivePromotions promotions;
    private IReadOnlySet<string>? givable;
    private Rulebook? markdowns;

    private Rulebook(CatalogueIndex catalogue, LivePromotions promotions) => (Catalogue, this.promotions) = (catalogue, promotions);

    /// <summary>The catalogue and store it was compiled for.</summary>
    public CatalogueIndex Catalogue { get; }

    /// <summary>The live promotions, in order of application.</summary>
    public IEnumerable<Promotion> Promotions => promotions.InOrder.Select(compiled => compiled.Promotion);

    /// <summary>How many they are.</summary>
    public int Count => promotions.InOrder.Length;

    /// <summary>
    /// The SKUs that gifts can be of, whose stock a pricing looks at; maybe some of promotions that were taken out. Worked out when first
    /// asked for.
    /// </summary>
    public IReadOnlyCollection<string> Givable => givable ??= GivenBy(Promotions).ToHashSet(StringComparer.Ordinal);

    /// <summary>
    /// The markdowns among them alone: what makes the prices of items. Worked out when first asked for; nothing is compiled.
    /// </summary>
    public Rulebook Markdowns =>
        markdowns ??= new(Catalogue, LivePromotions.Of(promotions.InOrder.Where(compiled => compiled.Markdown is not null)));

    /// <summary>The terms that its promotions take in, each once for a promotion.</summary>
    public IEnumerable<(Promotion Promotion, Term Term)> TermsTakenIn =>
        Promotions.SelectMany(
            promotion => promotion.Selections().SelectMany(selection => selection.In).Distinct(),
            (promotion, term) => (promotion, term)
        );

    /// <summary>The live promotions made ready, in order of application.</summary>
    internal CompiledPromotion[] Compiled => promotions.InOrder;

    /// <summary>Compiles promotions; those that are not live are left out.</summary>
    /// <param name="store">The store; the promotions name only what it and the catalogue hold.</param>
    /// <param name="catalogue">The catalogue.</param>
    /// <param name="promotions">Each id once, in any order.</param>
    public static Rulebook Compile(Store store, Catalogue catalogue, IEnumerable<Promotion> promotions) =>
        Compile(CatalogueIndex.Of(store, catalogue), promotions);

    /// <inheritdoc cref="Compile(Store, Catalogue, IEnumerable{Promotion})"/>
    public static Rulebook Compile(CatalogueIndex catalogue, IEnumerable<Promotion> promotions)
    {
        var compiler = new Compiler(catalogue);
        return new(
            catalogue,
            LivePromotions.Of(
                promotions.Where(promotion => promotion.State == State.Live).Select(promotion => CompiledPromotion.Of(promotion, compiler))
            )
        );
    }

    /// <summary>The same with one promotion put in place of the one of its id, or added. It takes part whatever its state.</summary>
    public Rulebook With(Promotion promotion) => With([promotion], []);

    /// <summary>
    /// The same with some promotions put in, each in the place of the one of its id, and some taken out. Only those are compiled.
    /// </summary>
    /// <param name="put">They take part whatever their state.</param>
    /// <param name="takenOut">The ids of those that no longer take part.</param>
    public Rulebook With(IEnumerable<Promotion> put, IReadOnlyCollection<string> takenOut)
    {
        var (compiler, added) = (new Compiler(Catalogue), put.ToArray());
        return new(Catalogue, promotions.With([.. added.Select(promotion => CompiledPromotion.Of(promotion, compiler))], takenOut))
        {
            givable =
                givable is { } known && GivenBy(added).Except(known).ToArray() is { Length: > 0 } more
                    ? new HashSet<string>([.. known, .. more], StringComparer.Ordinal)
                    : givable,
        };
    }

    /// <summary>The SKUs that a promotion gives by their names, those of the steps of ladders too.</summary>
    public static IReadOnlyCollection<string> GivenBy(Promotion promotion) =>
        [.. Gifts([promotion]).Select(gift => gift.Give).OfType<Give.OneOf>().SelectMany(give => give.Skus)];

    private static IEnumerable<Gift> Gifts(IEnumerable<Promotion> all) =>
        all.SelectMany(promotion => promotion.Rewards()).Select(entry => entry.Reward).OfType<Gift>();

    private IEnumerable<string> GivenBy(IEnumerable<Promotion> all) =>
        Gifts(all)
            .SelectMany(gift =>
                gift.Give switch
                {
                    Give.OneOf(var skus) => skus.AsEnumerable(),
                    Give.SameAs(var selection) => Catalogue.Select(selection).Select(variant => Catalogue.Variant(variant).Sku),
                    _ => throw new System.Diagnostics.UnreachableException(),
                }
            );

    /// <summary>Whether any of the promotions looks at a SKU of the catalogue at its current price.</summary>
    public bool LooksAt(string sku) => LookingAt(sku).Any();

    /// <summary>The promotions that look at a SKU of the catalogue at its current price, in order of application.</summary>
    public IEnumerable<Promotion> LookingAt(string sku)
    {
        var view = new CartView(new(default, [new Line(sku, 1)]), Catalogue);
        return promotions
            .InOrder.Where(compiled =>
                compiled.Rewards.Any(reward => reward.LooksAt(view, 0)) || compiled.Markdown?.Price(view, view.Variant(0)) < view.Current(0)
            )
            .Select(compiled => compiled.Promotion);
    }

    /// <summary>
    /// The promotions that are about some items of the catalogue, each once, in order of application: whenever they are open and however
    /// they
    /// start. Those about any item are not among them.
    /// </summary>
    internal IEnumerable<Promotion> About(IEnumerable<int> variants)
    {
        var terms = new HashSet<int>();
        foreach (var variant in variants)
        {
            terms.Add(variant);
            foreach (var term in Catalogue.TermsOf(variant))
                terms.Add(term);
        }

        return promotions
            .InOrder.Where(compiled => compiled.Touches is { } touched && Array.Exists(touched, terms.Contains))
            .Select(compiled => compiled.Promotion);
    }

    /// <summary>The promotions that are about any item, in order of application: whenever they are open and however they start.</summary>
    internal IEnumerable<Promotion> AboutAnything() =>
        promotions.InOrder.Where(compiled => compiled.Touches is null).Select(compiled => compiled.Promotion);

    /// <summary>Whether two promotions may stand in one cart, as far as they say of each other; markdowns take no part in this.</summary>
    public bool CanMeet(Promotion one, Promotion other)
    {
        var compiler = new Compiler(Catalogue);
        return CompiledPromotion.Of(one, compiler).CanMeet(CompiledPromotion.Of(other, compiler));
    }

    /// <summary>Prices a cart.</summary>
    /// <param name="cart">Its SKUs are in the catalogue, its currency is one of the store's.</param>
    /// <param name="usage">What has been used so far, by promotion; none: nothing.</param>
    /// <param name="effort">
    /// How much work may be put into the choice, as a multiple of what it may be by default: 1 to <see cref="MostEffort"/>. With more of it
    /// the
    /// same choice is found or a better one.
    /// </param>
    /// <param name="gone">Says that nobody waits for the result any more; it is looked at all the time.</param>
    /// <param name="batchCodes">Those of the cart's codes that are of batches, by their bare form (<see cref="Trigger.Bare"/>); others may
    /// be there too.</param>
    /// <param name="left">Of those that are <see cref="Givable"/>, what is left where orders or a count moved it; the others: as the
    /// catalogue says.</param>
    /// <exception cref="ArgumentException">A SKU of the cart is not in the catalogue.</exception>
    /// <exception cref="OperationCanceledException">Nobody waits any more.</exception>
    public PricedCart Price(
        Cart cart,
        IReadOnlyDictionary<string, Usage>? usage = null,
        int effort = 1,
        CancellationToken gone = default,
        IReadOnlyDictionary<string, BatchCode>? batchCodes = null,
        IReadOnlyDictionary<string, long>? left = null
    )
    {
        ArgumentOutOfRangeException.ThrowIfLessThan(effort, 1);
        ArgumentOutOfRangeException.ThrowIfGreaterThan(effort, MostEffort);
        var eligibility = Eligibility.Of(cart, usage ?? NothingUsed, batchCodes ?? NoBatchCodes);
        var unmarked = new CartView(cart, Catalogue) { Left = left };
        // A promotion with which something goes wrong is kept out, and the cart priced again without it.
        List<CompiledPromotion>? failed = null;
        while (true)
        {
            var workplace = Workplace.Take();
            var suspects = Array.Empty<CompiledPromotion>();
            try
            {
                var priced = Price(unmarked, eligibility, workplace, effort, gone, failed, ref suspects);
                workplace.Return();
                return priced;
            }
            catch (Exception error) when (error is not OperationCanceledException && suspects.Length > 0)
            {
                var slot = Math.Clamp(workplace.Sheet.Active, 0, suspects.Length - 1);
                (failed ??= []).Add(suspects[slot].FailedWith(error));
            }
        }
    }

    /// <summary>
    /// The promotions whose windows are open at a moment and whose limits in all are not used up, in order of application.
    /// </summary>
    public IEnumerable<Promotion> Open(Instant at, IReadOnlyDictionary<string, Usage> usage) =>
        promotions
            .InOrder.Where(compiled =>
                compiled.Failure is null
                && !compiled.Window.IsAhead(at)
                && !compiled.Window.IsOver(at)
                && (compiled.Occurrences?.IsOpen(at) ?? true)
                && compiled.Promotion.Limits?.Reached(usage.GetValueOrDefault(compiled.Promotion.Id, Usage.None), false) is null
            )
            .Select(compiled => compiled.Promotion);

    /// <summary>The first moment after another at which a window of a promotion opens or closes; none: null.</summary>
    public Instant? NextTurn(Instant at)
    {
        Instant? next = null;
        foreach (var compiled in promotions.InOrder)
        {
            Consider(compiled.Window.Opens);
            Consider(compiled.Window.Closes);
            if (!compiled.Window.IsOver(at) && compiled.Occurrences is { } occurrences)
                Consider(occurrences.Turn(at));
        }

        return next;

        void Consider(Instant turn)
        {
            if (turn > at && turn < Instant.MaxValue && (next is null || turn < next))
                next = turn;
        }
    }

    /// <summary>The promotions that a code starts, open or not, in order of application.</summary>
    internal IEnumerable<CompiledPromotion> StartedBy(EnteredCode code) => promotions.StartedBy(code);

    private PricedCart Price(
        CartView unmarked,
        Eligibility eligibility,
        Workplace workplace,
        int effort,
        CancellationToken gone,
        List<CompiledPromotion>? failed,
        ref CompiledPromotion[] suspects
    )
    {
        var candidates = Candidates(unmarked, eligibility, workplace, failed);
        var view = unmarked;
        PricePass? pricePass = null;
        if (promotions.HasMarkdowns)
        {
            pricePass = new(
                unmarked,
                [.. candidates.Where(promotion => promotion.Markdown is not null && Admits(promotion, unmarked, eligibility, ref failed))],
                variant => MarkdownsOf(variant, unmarked, eligibility)
            );
            view = pricePass.Marked();
        }

        var slots = candidates.Count == 0 ? [] : new CompiledPromotion[candidates.Count];
        var (count, credits) = (0, default(List<CompiledPromotion>));
        foreach (var promotion in candidates)
        {
            if (promotion.Markdown is not null || !Admits(promotion, view, eligibility, ref failed))
                continue;
            if (promotion.Credit is not null)
                (credits ??= []).Add(promotion);
            else
                slots[count++] = promotion;
        }

        // In an empty cart nothing has an effect.
        Array.Resize(ref slots, view.Lines == 0 ? 0 : count);
        RefuseWhatReachesTooFar(ref slots, view, ref failed);
        suspects = slots;

        var (sheet, choice) = (workplace.Sheet, workplace.Choice);
        var delivery = Delivery.Of(view);
        sheet.Work.Open(effort * WorkBudget.OfOneEffort, gone);
        sheet.Open(view, delivery.Charge, slots.Length);
        choice.Open(sheet, slots, delivery.Charge);
        var chosen = Catalogue.Store.Policy == Policy.Best ? choice.Best() : choice.ByRank();
        choice.Show();

        Span<long> lowered = slots.Length <= 256 ? stackalloc long[slots.Length] : new long[slots.Length];
        lowered.Clear();
        var settled = workplace.Settlement.Settle(sheet, slots, lowered, delivery);
        var applied = chosen.Slots.Length == 0 ? [] : new Outcome[chosen.Slots.Length];
        for (var i = 0; i < applied.Length; i++)
        {
            var slot = chosen.Slots[i];
            applied[i] = new(
                slots[slot].Promotion,
                sheet.Of(slot).Saving,
                lowered[slot] + sheet.Of(slot).GiftUnits,
                null,
                ToPickOf(sheet, slot),
                sheet.Gifts.IsShort(slot)
            );
        }

        var totals = settled.Totals;
        List<PaidCredit>? paid = null;
        if (credits is not null)
            (totals, paid) = CreditPass.Pay(totals, sheet, credits, chosen.Slots.Select(slot => slots[slot]), eligibility);
        return new PricedCart(
            new(this, view, unmarked, eligibility, effort, slots, chosen, applied, delivery.Charge, pricePass, paid, failed)
        )
        {
            Lines = settled.Lines,
            Gifts = settled.Gifts,
            Totals = totals,
            Taxes = settled.Taxes,
            Proved = chosen.Proved,
            Gap = chosen.Proved ? null : chosen.Gap,
            Worth = sheet.Total.Worth,
            Work = sheet.Work.Spent,
        };
    }

    private static ToPick? ToPickOf(Sheet sheet, int slot)
    {
        long units = 0;
        List<string>? skus = null;
        foreach (var offer in sheet.Gifts.Offers)
        {
            if (offer.Slot != slot)
                continue;
            units += offer.Count;
            foreach (var variant in offer.Variants)
                if (sheet.Cart.Catalogue.Variant(variant).Sku is var sku && !(skus ??= []).Contains(sku))
                    skus.Add(sku);
        }

        return skus is null ? null : new(skus, units);
    }

    // Whether it is eligible; what goes wrong with it keeps it out.
    private static bool Admits(CompiledPromotion promotion, CartView view, Eligibility eligibility, ref List<CompiledPromotion>? failed)
    {
        try
        {
            return eligibility.FirstObstacle(promotion, view) == Obstacle.None;
        }
        catch (Exception error) when (error is not OperationCanceledException)
        {
            (failed ??= []).Add(promotion.FailedWith(error));
            return false;
        }
    }

    private static void RefuseWhatReachesTooFar(ref CompiledPromotion[] slots, CartView view, ref List<CompiledPromotion>? failed)
    {
        // The others add nothing to what the cart holds.
        var adding = Array.FindAll(slots, promotion => promotion.GivesBeside);
        if (adding.Length == 0)
            return;
        var extent = CartExtent.Of(view).With(adding.Select(promotion => promotion.Promotion));
        var sum = Reach.Nothing;
        foreach (var promotion in adding)
        {
            var with = sum;
            foreach (var reward in promotion.Promotion.Rewards)
                with += reward.ReachIn(extent);
            if (!with.IsTooMuch)
            {
                sum = with;
                continue;
            }

            slots = Array.FindAll(slots, other => other != promotion);
            (failed ??= []).Add(
                promotion.FailedWith(new OverflowException("What it gives in this cart comes to more than can be counted."))
            );
        }
    }

    /// <summary>
    /// The promotions that could touch a cart, in order of application: by a code, by what is in it, or whatever is in it.
    /// </summary>
    private List<CompiledPromotion> Candidates(CartView view, Eligibility eligibility, Workplace workplace, List<CompiledPromotion>? failed)
    {
        var candidates = workplace.Eligible;
        candidates.Clear();
        promotions.Find(view, eligibility.Entered, workplace.Numbers, workplace.Asked, candidates);
        if (failed is not null)
        {
            var known = failed;
            candidates.RemoveAll(promotion => known.Exists(one => one.Promotion.Id == promotion.Promotion.Id));
        }

        return candidates;
    }

    // What is not in the cart has not been looked at: the markdowns that could touch it are found by its terms.
    private List<CompiledPromotion> MarkdownsOf(int variant, CartView unmarked, Eligibility eligibility)
    {
        // One that fails here is not in the cart's own list: it only marks nothing.
        List<CompiledPromotion>? failed = null;
        return
        [
            .. promotions
                .FindByItem(unmarked, variant)
                .Where(promotion => promotion.Markdown is not null && Admits(promotion, unmarked, eligibility, ref failed)),
        ];
    }
}
