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
    private readonly Dictionary<string, int[]> byCode;
    private readonly Dictionary<int, int[]> byTerm;
    private readonly int[] everywhere;

    private Rulebook(CatalogueIndex catalogue, IEnumerable<CompiledPromotion> promotions)
    {
        Catalogue = catalogue;
        this.promotions = [.. promotions.OrderBy(compiled => compiled.Promotion, Promotion.Order)];
        var numbered = this.promotions.Select((promotion, number) => (Promotion: promotion, Number: number)).ToArray();
        byCode = Index(numbered.SelectMany(entry => entry.Promotion.Codes.Distinct().Select(code => (code, entry.Number))));
        var automatic = numbered.Where(entry => entry.Promotion.Codes.Length == 0).ToArray();
        byTerm = Index(automatic.SelectMany(entry => (entry.Promotion.Touches ?? []).Select(term => (term, entry.Number))));
        everywhere = [.. automatic.Where(entry => entry.Promotion.Touches is null).Select(entry => entry.Number)];
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
        return promotions.Any(promotion => promotion.Rewards.Any(reward => reward.LooksAt(view, 0)));
    }

    /// <summary>Prices a cart.</summary>
    /// <param name="cart">Its SKUs are in the catalogue, its currency is one of the store's.</param>
    /// <param name="usage">What has been used so far, by promotion; none: nothing.</param>
    /// <exception cref="ArgumentException">A SKU of the cart is not in the catalogue.</exception>
    public PricedCart Price(Cart cart, IReadOnlyDictionary<string, Usage>? usage = null)
    {
        usage ??= NothingUsed;
        var view = new CartView(cart, Catalogue);
        var entered = EnteredCodes(cart);
        var touched = new Dictionary<CompiledPromotion, Outcome>();
        var eligible = new List<CompiledPromotion>();
        foreach (var number in Candidates(view, entered))
        {
            var promotion = promotions[number];
            if (promotion.Refuses(view, UsageOf(promotion, usage), entered) is { } reason) touched.Add(promotion, new(promotion.Promotion, 0, 0, reason));
            else eligible.Add(promotion);
        }

        var sheet = spare ?? new Sheet();
        spare = null;
        var delivery = Delivery.Of(view);
        CompiledPromotion[] slots = [.. eligible];
        sheet.Open(view, delivery.Charge, slots.Length);
        var choice = new Choice(sheet, slots, delivery.Charge);
        var chosen = Catalogue.Store.Policy == Policy.Best ? choice.Best() : choice.ByRank();
        for (var slot = 0; slot < slots.Length; slot++)
        {
            if (!chosen.Contains(slot)) touched.Add(slots[slot], new(slots[slot].Promotion, 0, 0, WhyNot(choice, slots, slot, chosen)));
        }

        choice.IsChoice(chosen);
        foreach (var slot in chosen) touched.Add(slots[slot], new(slots[slot].Promotion, sheet.Of(slot).Saving, UnitsOf(sheet, slot), null));
        var lines = Settlement.Lines(sheet, slots);
        var (totals, taxes) = Settlement.Totals(sheet, lines, delivery);
        var priced = new PricedCart(this, view, usage, touched) { Lines = lines, Totals = totals, Taxes = taxes, Proved = choice.Proved };
        spare = sheet;
        return priced;
    }

    /// <summary>What became of every promotion: of those that could not touch the cart, worked out now.</summary>
    internal IReadOnlyList<Outcome> Explain(CartView view, IReadOnlyDictionary<string, Usage> usage, Dictionary<CompiledPromotion, Outcome> touched)
    {
        var entered = EnteredCodes(view.Cart);
        return [.. promotions.Select(promotion => touched.TryGetValue(promotion, out var outcome)
            ? outcome
            : new(promotion.Promotion, 0, 0, promotion.Refuses(view, UsageOf(promotion, usage), entered) ?? new Reason.NoMatchingItems()))];
    }

    internal IReadOnlyList<CodeStatus> StatusOfCodes(PricedCart priced)
    {
        var statuses = new List<CodeStatus>();
        foreach (var code in EnteredCodes(priced.Cart))
        {
            var outcomes = byCode.GetValueOrDefault(code, []).Select(number => priced.Outcomes[number]).ToArray();
            var told = outcomes.FirstOrDefault(outcome => outcome.Applied) ?? outcomes.FirstOrDefault();
            statuses.Add(new(code, told?.Promotion, told?.Reason));
        }

        return statuses;
    }

    private static Usage UsageOf(CompiledPromotion promotion, IReadOnlyDictionary<string, Usage> usage) =>
        usage.GetValueOrDefault(promotion.Promotion.Id, Usage.None);

    private static string[] EnteredCodes(Cart cart) => cart.Codes.Count == 0 ? [] : [.. cart.Codes.Select(Trigger.Normal).Distinct()];

    private static Reason WhyNot(Choice choice, CompiledPromotion[] slots, int slot, int[] chosen)
    {
        if (!choice.IsChoice([slot])) return new Reason.NoMatchingItems();
        var blocking = chosen.Where(other => !choice.CanMeet(other, slot)).Select(other => slots[other].Promotion).ToEquatableArray();
        return blocking.Count > 0 ? new Reason.CannotMeet(blocking) : new Reason.NotBetter();
    }

    private static long UnitsOf(Sheet sheet, int slot) =>
        sheet.Reductions.ToArray().Where(reduction => reduction.Slot == slot).GroupBy(reduction => reduction.Line).Sum(Settlement.DistinctUnits)
        + sheet.Of(slot).GiftUnits;

    /// <summary>The promotions that could touch a cart, in order of application: by a code, by what is in it, or whatever is in it.</summary>
    private List<int> Candidates(CartView view, string[] entered)
    {
        var found = new List<int>(everywhere);
        foreach (var code in entered) if (byCode.TryGetValue(code, out var ofCode)) found.AddRange(ofCode);
        for (var line = 0; line < view.Lines; line++)
        {
            if (!view.IsFirstOfSku(line)) continue;
            if (byTerm.TryGetValue(view.Variant(line), out var ofSku)) found.AddRange(ofSku);
            foreach (var term in Catalogue.TermsOf(view.Variant(line))) if (byTerm.TryGetValue(term, out var ofTerm)) found.AddRange(ofTerm);
        }

        found.Sort();
        var kept = 0;
        for (var i = 0; i < found.Count; i++) if (i == 0 || found[i] != found[i - 1]) found[kept++] = found[i];
        found.RemoveRange(kept, found.Count - kept);
        return found;
    }

    private static Dictionary<TKey, int[]> Index<TKey>(IEnumerable<(TKey Key, int Number)> entries)
        where TKey : notnull =>
        entries.GroupBy(entry => entry.Key).ToDictionary(group => group.Key, group => group.Select(entry => entry.Number).ToArray());
}
