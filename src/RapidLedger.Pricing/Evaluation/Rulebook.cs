namespace RapidLedger.Pricing;

/// <summary>
/// The live promotions of a store, compiled and indexed: compile once, price many times, from any thread.
/// </summary>
public sealed class Rulebook
{
    private static readonly IReadOnlyDictionary<string, Usage> NothingUsed = new Dictionary<string, Usage>();

    [ThreadStatic]
    private static Sheet? spare;

    private readonly CompiledPromotion[] promotions;
    private readonly PromotionIndex index;
    private readonly bool hasMarkdowns;

    private Rulebook(CatalogueIndex catalogue, IEnumerable<CompiledPromotion> promotions)
    {
        Catalogue = catalogue;
        this.promotions = [.. promotions.OrderBy(compiled => compiled.Promotion, Promotion.Order)];
        index = new(this.promotions);
        hasMarkdowns = Array.Exists(this.promotions, promotion => promotion.Markdown is not null);
    }

    /// <summary>The catalogue and store it was compiled for.</summary>
    public CatalogueIndex Catalogue { get; }

    /// <summary>The live promotions, in order of application.</summary>
    public IEnumerable<Promotion> Promotions => promotions.Select(compiled => compiled.Promotion);

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
        return new(catalogue, promotions.Where(promotion => promotion.State == State.Live).Select(promotion => new CompiledPromotion(promotion, compiler)));
    }

    /// <summary>The same with one promotion put in place of the one of its id, or added. It takes part whatever its state.</summary>
    public Rulebook With(Promotion promotion) =>
        new(Catalogue, promotions.Where(compiled => compiled.Promotion.Id != promotion.Id).Append(new(promotion, new(Catalogue))));

    /// <summary>Whether any of the promotions looks at a SKU of the catalogue at its current price.</summary>
    public bool LooksAt(string sku)
    {
        var view = new CartView(new(default, [new Line(sku, 1)]), Catalogue);
        return promotions.Any(promotion => promotion.Rewards.Any(reward => reward.LooksAt(view, 0)) || promotion.Markdown?.Price(view, view.Variant(0)) < view.Current(0));
    }

    /// <summary>Prices a cart.</summary>
    /// <param name="cart">Its SKUs are in the catalogue, its currency is one of the store's.</param>
    /// <param name="usage">What has been used so far, by promotion; none: nothing.</param>
    /// <exception cref="ArgumentException">A SKU of the cart is not in the catalogue.</exception>
    public PricedCart Price(Cart cart, IReadOnlyDictionary<string, Usage>? usage = null)
    {
        usage ??= NothingUsed;
        // Markdowns look at the catalogue's prices, everything else at those that they leave.
        var unmarked = new CartView(cart, Catalogue);
        var entered = EnteredCodes(cart);
        var touched = new Dictionary<CompiledPromotion, Outcome>();
        var sheet = spare ?? new Sheet();
        spare = null;
        var candidates = Candidates(unmarked, entered, sheet);
        // Why the others are not is worked out when it is asked for.
        bool IsEligible(CompiledPromotion promotion, CartView seen) => promotion.Admits(seen, UsageOf(promotion, usage), entered);

        var view = unmarked;
        if (hasMarkdowns)
        {
            var pass = new PricePass(this, unmarked, [.. candidates.Where(promotion => promotion.Markdown is not null && IsEligible(promotion, unmarked))], usage, entered);
            view = new CartView(cart, Catalogue);
            view.Mark(pass.PriceInCart, pass.PriceElsewhere);
            pass.AddOutcomes(touched);
        }

        var eligible = candidates.FindAll(promotion => promotion.Markdown is null && IsEligible(promotion, view));
        CompiledPromotion[] slots = [.. eligible.FindAll(promotion => promotion.Credit is null)];

        var delivery = Delivery.Of(view);
        sheet.Open(view, delivery.Charge, slots.Length);
        var choice = sheet.Choice;
        choice.Open(sheet, slots, delivery.Charge);
        var chosen = Catalogue.Store.Policy == Policy.Best ? choice.Best() : choice.ByRank();
        for (var slot = 0; slot < slots.Length; slot++)
        {
            if (!chosen.Contains(slot)) touched.Add(slots[slot], new(slots[slot].Promotion, 0, 0, WhyNot(choice, sheet, slots, slot, chosen)));
        }

        choice.Show(chosen);
        Span<long> lowered = slots.Length <= 256 ? stackalloc long[slots.Length] : new long[slots.Length];
        lowered.Clear();
        var lines = Settlement.Lines(sheet, slots, lowered);
        foreach (var slot in chosen)
            touched.Add(slots[slot], new(slots[slot].Promotion, sheet.Of(slot).Saving, lowered[slot] + sheet.Of(slot).GiftUnits, null, ToPickOf(sheet, slot), sheet.IsShort(slot)));
        var gifts = Settlement.Gifts(sheet, slots);
        var (totals, taxes) = Settlement.Totals(sheet, lines, gifts, delivery);
        var worth = sheet.Total.Worth;
        spare = sheet;
        totals = PayByCredit(totals, eligible, [.. chosen.Select(slot => slots[slot])], view, usage, touched);
        return new PricedCart(this, view, unmarked, usage, touched) { Lines = lines, Gifts = gifts, Totals = totals, Taxes = taxes, Proved = choice.Proved, Worth = worth };
    }

    /// <summary>What all its promotions give together, if they are a choice for a cart; else null. Reference for the search.</summary>
    internal Tally? PriceAll(Cart cart)
    {
        var (unmarked, view) = (new CartView(cart, Catalogue), new CartView(cart, Catalogue));
        var entered = EnteredCodes(cart);
        CompiledPromotion[] marking = [.. promotions.Where(promotion => promotion.Markdown is not null && promotion.Admits(unmarked, Usage.None, entered))];
        var pass = new PricePass(this, unmarked, marking, NothingUsed, entered);
        view.Mark(pass.PriceInCart, pass.PriceElsewhere);
        CompiledPromotion[] slots = [.. promotions.Where(promotion => promotion.Markdown is null)];
        if (!Array.TrueForAll(slots, promotion => promotion.Admits(view, Usage.None, entered))) return null;
        var delivery = Delivery.Of(view);
        var sheet = new Sheet();
        sheet.Open(view, delivery.Charge, slots.Length);
        int[] all = [.. Enumerable.Range(0, slots.Length)];
        var choice = sheet.Choice;
        choice.Open(sheet, slots, delivery.Charge);
        return all.All(x => all.All(y => x == y || choice.CanMeet(x, y))) && choice.IsChoice(all) ? sheet.Total : null;
    }

    /// <summary>What became of every promotion: of those that could not touch the cart, worked out now.</summary>
    internal IReadOnlyList<Outcome> Explain(CartView view, CartView unmarked, IReadOnlyDictionary<string, Usage> usage, Dictionary<CompiledPromotion, Outcome> touched)
    {
        var entered = EnteredCodes(view.Cart);
        return [.. promotions.Select(promotion => touched.TryGetValue(promotion, out var outcome)
            ? outcome
            : new(promotion.Promotion, 0, 0, promotion.Refuses(promotion.Markdown is null ? view : unmarked, UsageOf(promotion, usage), entered) ?? new Reason.NoMatchingItems()))];
    }

    internal IReadOnlyList<CodeStatus> StatusOfCodes(PricedCart priced)
    {
        var statuses = new List<CodeStatus>();
        foreach (var code in EnteredCodes(priced.Cart))
        {
            var outcomes = index.StartedBy(code).Select(number => priced.Outcomes[number]).ToArray();
            var told = outcomes.FirstOrDefault(outcome => outcome.Applied) ?? outcomes.FirstOrDefault();
            statuses.Add(new(code, told?.Promotion, told?.Reason));
        }

        return statuses;
    }

    private static Usage UsageOf(CompiledPromotion promotion, IReadOnlyDictionary<string, Usage> usage) =>
        usage.GetValueOrDefault(promotion.Promotion.Id, Usage.None);

    private static string[] EnteredCodes(Cart cart) => cart.Codes.Count == 0 ? [] : [.. cart.Codes.Select(Trigger.Normal).Distinct()];

    // Credits pay after everything else, one after the other.
    private Totals PayByCredit(
        Totals totals,
        List<CompiledPromotion> eligible,
        CompiledPromotion[] chosen,
        CartView view,
        IReadOnlyDictionary<string, Usage> usage,
        Dictionary<CompiledPromotion, Outcome> touched)
    {
        List<CompiledPromotion> beside = [.. chosen];
        foreach (var promotion in eligible)
        {
            if (promotion.Credit is not { } credit) continue;
            var held = credit.Held(view.Currency, Catalogue.Store, UsageOf(promotion, usage).Drawn);
            var blocking = beside.Where(other => !promotion.CanMeet(other)).OrderBy(other => other.Promotion, Promotion.Order).Select(other => other.Promotion).ToEquatableArray();
            var paid = Math.Min(held, totals.Due);
            Reason? reason = held == 0 ? new Reason.NoMatchingItems()
                : blocking.Count > 0 ? new Reason.CannotMeet(blocking)
                : paid == 0 ? new Reason.NothingLeft()
                : null;
            touched.Add(promotion, new(promotion.Promotion, reason is null ? paid : 0, 0, reason));
            if (reason is not null) continue;
            beside.Add(promotion);
            totals = totals with { Credit = totals.Credit + paid, Due = totals.Due - paid };
        }

        return totals;
    }

    private static Reason WhyNot(Choice choice, Sheet sheet, CompiledPromotion[] slots, int slot, int[] chosen)
    {
        if (!choice.HasEffects([slot])) return sheet.IsShort(slot) ? new Reason.GiftOut() : new Reason.NoMatchingItems();
        var blocking = chosen.Where(other => !choice.CanMeet(other, slot)).Select(other => slots[other].Promotion).ToEquatableArray();
        if (blocking.Count > 0) return new Reason.CannotMeet(blocking);
        return choice.UnmetAfter(slot, chosen) is { } unmet ? new Reason.ConditionNotMet([unmet]) : new Reason.NotBetter();
    }

    private static ToPick? ToPickOf(Sheet sheet, int slot)
    {
        var offers = sheet.Offers.Where(offer => offer.Slot == slot).ToArray();
        if (offers.Length == 0) return null;
        return new(
            [.. offers.SelectMany(offer => offer.Variants).Distinct().Select(variant => sheet.Cart.Catalogue.Variant(variant).Sku)],
            offers.Sum(offer => offer.Count));
    }

    /// <summary>The promotions that could touch a cart, in order of application: by a code, by what is in it, or whatever is in it.</summary>
    private List<CompiledPromotion> Candidates(CartView view, string[] entered, Sheet sheet)
    {
        var numbers = sheet.Numbers;
        numbers.Clear();
        index.Find(view, entered, numbers);
        numbers.Sort();
        var candidates = new List<CompiledPromotion>(16);
        for (var i = 0; i < numbers.Count; i++) if (i == 0 || numbers[i] != numbers[i - 1]) candidates.Add(promotions[numbers[i]]);
        return candidates;
    }

    /// <summary>The lowest price that any eligible markdown gives; of equal ones the first by order of application, and by level, gives it.</summary>
    private sealed class PricePass(
        Rulebook rulebook,
        CartView unmarked,
        CompiledPromotion[] eligible,
        IReadOnlyDictionary<string, Usage> usage,
        string[] entered)
    {
        private readonly (long Amount, long Units)[] given = new (long, long)[eligible.Length];

        public long PriceInCart(int variant) => Lowest(variant, eligible).Price;

        // What is not in the cart has not been looked at: the markdowns that could touch it are found by its terms.
        public long PriceElsewhere(int variant)
        {
            var numbers = new List<int>();
            rulebook.index.FindByItem(unmarked, variant, numbers);
            var others = numbers.Distinct().Select(number => rulebook.promotions[number]).Where(promotion =>
                promotion.Markdown is not null && promotion.Admits(unmarked, UsageOf(promotion, usage), entered));
            return Lowest(variant, [.. eligible.Union(others)]).Price;
        }

        public void AddOutcomes(Dictionary<CompiledPromotion, Outcome> touched)
        {
            for (var line = 0; line < unmarked.Lines; line++)
            {
                var (price, by) = Lowest(unmarked.Variant(line), eligible);
                if (by < 0) continue;
                given[by].Amount += (unmarked.Current(line) - price) * unmarked.Quantity(line);
                given[by].Units += unmarked.Quantity(line);
            }

            for (var i = 0; i < eligible.Length; i++)
                touched.Add(eligible[i], new(eligible[i].Promotion, given[i].Amount, given[i].Units, given[i].Units > 0 ? null : WhyNot(eligible[i])));
        }

        private Reason WhyNot(CompiledPromotion promotion)
        {
            for (var line = 0; line < unmarked.Lines; line++)
                if (promotion.Markdown!.Price(unmarked, unmarked.Variant(line)) < unmarked.Current(line)) return new Reason.NotBetter();
            return new Reason.NoMatchingItems();
        }

        private (long Price, int By) Lowest(int variant, CompiledPromotion[] among)
        {
            var (lowest, by) = (unmarked.Prices.Current(variant), -1);
            for (var i = 0; i < among.Length; i++)
                if (among[i].Markdown!.Price(unmarked, variant) is var price && price < lowest) (lowest, by) = (price, i);
            return (lowest, by);
        }
    }
}
