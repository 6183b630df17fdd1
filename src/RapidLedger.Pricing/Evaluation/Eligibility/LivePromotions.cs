namespace RapidLedger.Pricing;

/// <summary>
/// The promotions of a rulebook, in order of application and indexed. A few changes stand beside a large settled part, so that one of very
/// many is replaced without touching the others; when there are more than a few, all are settled anew.
/// </summary>
internal sealed class LivePromotions
{
    private const int MostBeside = 64;

    private readonly Part settled;
    private readonly Part beside;

    // Those of the settled part that no longer count.
    private readonly HashSet<CompiledPromotion> replaced;
    private CompiledPromotion[]? inOrder;

    private LivePromotions(Part settled, Part beside, HashSet<CompiledPromotion> replaced) =>
        (this.settled, this.beside, this.replaced) = (settled, beside, replaced);

    /// <summary>All of them, in order of application.</summary>
    public CompiledPromotion[] InOrder => inOrder ??= beside.Promotions.Length == 0 && replaced.Count == 0 ? settled.Promotions : Merged();

    /// <summary>Whether there may be markdowns among them.</summary>
    public bool HasMarkdowns => settled.HasMarkdowns || beside.HasMarkdowns;

    /// <summary>Settles promotions.</summary>
    public static LivePromotions Of(IEnumerable<CompiledPromotion> promotions) =>
        new(new([.. promotions.OrderBy(compiled => compiled.Promotion, Promotion.Order)]), new([]), []);

    /// <summary>The same with some put in, in the place of those of their ids, and some taken out.</summary>
    public LivePromotions With(IReadOnlyCollection<CompiledPromotion> put, IReadOnlyCollection<string> takenOut)
    {
        var changed = put.Select(compiled => compiled.Promotion.Id).Concat(takenOut).ToHashSet(StringComparer.Ordinal);
        CompiledPromotion[] kept = [.. beside.Promotions.Where(compiled => !changed.Contains(compiled.Promotion.Id)), .. put];
        if (kept.Length + replaced.Count + changed.Count > MostBeside)
            return Of(InOrder.Where(compiled => !changed.Contains(compiled.Promotion.Id)).Concat(put));
        Array.Sort(kept, (left, right) => Promotion.Order.Compare(left.Promotion, right.Promotion));
        var more = changed.SelectMany(settled.WithId);
        return new(settled, new(kept), new([.. replaced, .. more], ReferenceEqualityComparer.Instance));
    }

    /// <summary>Those that could touch a cart, in order of application: by a code, by what is in it, or whatever is in it.</summary>
    public void Find(CartView cart, ReadOnlySpan<EnteredCode> entered, NumberSet numbers, NumberSet asked, List<CompiledPromotion> found)
    {
        asked.MakeRoom(cart.Catalogue.Terms);
        settled.Find(cart, entered, numbers, asked, found);
        if (replaced.Count > 0)
            found.RemoveAll(compiled => !IsCurrent(compiled));
        if (beside.Promotions.Length == 0)
            return;
        var before = found.Count;
        beside.Find(cart, entered, numbers, asked, found);
        if (found.Count > before && before > 0)
            found.Sort(static (left, right) => Promotion.Order.Compare(left.Promotion, right.Promotion));
    }

    /// <summary>Those that a variant could bring in, were it in the cart, each once.</summary>
    public IEnumerable<CompiledPromotion> FindByItem(CartView cart, int variant) =>
        settled.FindByItem(cart, variant).Where(IsCurrent).Concat(beside.FindByItem(cart, variant));

    /// <summary>Those that a code starts, open or not, in order of application.</summary>
    public IEnumerable<CompiledPromotion> StartedBy(EnteredCode code) =>
        settled.StartedBy(code).Where(IsCurrent).Concat(beside.StartedBy(code)).OrderBy(compiled => compiled.Promotion, Promotion.Order);

    // Both parts are in order already.
    private CompiledPromotion[] Merged()
    {
        var (merged, at) = (new List<CompiledPromotion>(settled.Promotions.Length + beside.Promotions.Length), 0);
        foreach (var compiled in settled.Promotions)
        {
            if (!IsCurrent(compiled))
                continue;
            for (; at < beside.Promotions.Length && Promotion.Order.Compare(beside.Promotions[at].Promotion, compiled.Promotion) < 0; at++)
                merged.Add(beside.Promotions[at]);
            merged.Add(compiled);
        }

        merged.AddRange(beside.Promotions[at..]);
        return [.. merged];
    }

    private bool IsCurrent(CompiledPromotion compiled) => !replaced.Contains(compiled);

    private sealed class Part(CompiledPromotion[] promotions)
    {
        private readonly PromotionIndex index = new(promotions);
        private ILookup<string, CompiledPromotion>? byId;

        public CompiledPromotion[] Promotions => promotions;

        public bool HasMarkdowns { get; } = Array.Exists(promotions, promotion => promotion.Markdown is not null);

        public void Find(
            CartView cart,
            ReadOnlySpan<EnteredCode> entered,
            NumberSet numbers,
            NumberSet asked,
            List<CompiledPromotion> found
        )
        {
            numbers.Open(promotions.Length);
            index.Find(cart, entered, numbers, asked);
            numbers.AddTo(found, promotions);
        }

        public IEnumerable<CompiledPromotion> FindByItem(CartView cart, int variant)
        {
            var (numbers, found) = (new NumberSet(), new List<CompiledPromotion>());
            numbers.Open(promotions.Length);
            index.FindByItem(cart, variant, numbers);
            numbers.AddTo(found, promotions);
            return found;
        }

        public IEnumerable<CompiledPromotion> WithId(string id) =>
            (byId ??= promotions.ToLookup(compiled => compiled.Promotion.Id, StringComparer.Ordinal))[id];

        public IEnumerable<CompiledPromotion> StartedBy(EnteredCode code) => index.StartedBy(code).Select(number => promotions[number]);
    }
}
