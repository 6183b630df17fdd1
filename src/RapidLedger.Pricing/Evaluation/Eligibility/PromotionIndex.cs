using NodaTime;

namespace RapidLedger.Pricing;

/// <summary>
/// Which promotions could touch a cart: by a code that is entered, by what is in the cart, by where it goes, and by when. Those that
/// could not are not looked at. Promotions are numbered in order of application.
/// </summary>
internal sealed class PromotionIndex
{
    private readonly Dictionary<string, Timeline> byCode;
    private readonly Dictionary<string, Timeline> byBatch;
    private readonly Dictionary<int, Timeline> byTerm;
    private readonly Dictionary<string, Timeline> byCountry;
    private readonly Timeline others;

    public PromotionIndex(CompiledPromotion[] promotions)
    {
        var numbered = promotions
            .Select((promotion, number) => (Promotion: promotion, Entry: new Timeline.Entry(promotion.Window, number)))
            .ToArray();
        byCode = Index(numbered.SelectMany(promotion => promotion.Promotion.Codes.Select(code => (code, promotion.Entry))));
        byBatch = Index(numbered.SelectMany(promotion => promotion.Promotion.Batches.Select(batch => (batch, promotion.Entry))));
        var automatic = numbered.Where(promotion => promotion.Promotion.IsAutomatic).ToArray();
        byTerm = Index(automatic.SelectMany(promotion => (promotion.Promotion.Touches ?? []).Select(term => (term, promotion.Entry))));
        var anyItems = automatic.Where(promotion => promotion.Promotion.Touches is null).ToArray();
        byCountry = Index(
            anyItems.SelectMany(promotion => (promotion.Promotion.When?.Countries ?? []).Select(country => (country, promotion.Entry)))
        );
        others = new([.. anyItems.Where(promotion => promotion.Promotion.When?.Countries is null).Select(promotion => promotion.Entry)]);
    }

    /// <summary>Adds the numbers of the promotions that could touch a cart.</summary>
    /// <param name="cart">The cart.</param>
    /// <param name="entered">Its codes.</param>
    /// <param name="numbers">What they are added to.</param>
    /// <param name="asked">Empty; it is so again at the end. Of lines that share a category or a brand only the first asks for it.</param>
    public void Find(CartView cart, ReadOnlySpan<EnteredCode> entered, NumberSet numbers, NumberSet asked)
    {
        others.Find(cart.Cart.At, numbers);
        foreach (var code in entered)
        {
            if (byCode.TryGetValue(code.Normal, out var ofCode))
                ofCode.Find(cart.Cart.At, numbers);
            if (code.OfBatch is { } known && byBatch.TryGetValue(known.Batch, out var ofBatch))
                ofBatch.Find(cart.Cart.At, numbers);
        }

        if (cart.Cart.Destination is { } place && byCountry.TryGetValue(place.Country, out var ofCountry))
            ofCountry.Find(cart.Cart.At, numbers);
        for (var line = 0; line < cart.Lines; line++)
        {
            if (asked.Add(cart.Variant(line)))
                FindByTerm(cart.Variant(line), cart.Cart.At, numbers);
            foreach (var term in cart.Catalogue.TermsOf(cart.Variant(line)))
                if (asked.Add(term))
                    FindByTerm(term, cart.Cart.At, numbers);
        }

        for (var line = 0; line < cart.Lines; line++)
        {
            asked.Remove(cart.Variant(line));
            foreach (var term in cart.Catalogue.TermsOf(cart.Variant(line)))
                asked.Remove(term);
        }
    }

    /// <summary>Adds the numbers of those that a variant could bring in, were it in the cart.</summary>
    public void FindByItem(CartView cart, int variant, NumberSet numbers)
    {
        FindByTerm(variant, cart.Cart.At, numbers);
        foreach (var term in cart.Catalogue.TermsOf(variant))
            FindByTerm(term, cart.Cart.At, numbers);
    }

    private void FindByTerm(int term, Instant at, NumberSet numbers)
    {
        if (byTerm.TryGetValue(term, out var found))
            found.Find(at, numbers);
    }

    /// <summary>The numbers of all that a code starts, open or not.</summary>
    public IEnumerable<int> StartedBy(EnteredCode code) =>
        (byCode.GetValueOrDefault(code.Normal)?.Numbers ?? [])
            .Concat(code.OfBatch is { } known ? byBatch.GetValueOrDefault(known.Batch)?.Numbers ?? [] : [])
            .Distinct()
            .Order();

    private static Dictionary<TKey, Timeline> Index<TKey>(IEnumerable<(TKey Key, Timeline.Entry Entry)> entries)
        where TKey : notnull =>
        entries
            .GroupBy(entry => entry.Key)
            .ToDictionary(group => group.Key, group => new Timeline([.. group.Select(entry => entry.Entry)]));

    /// <summary>Promotions by when their windows open: a tree of intervals laid out in an array.</summary>
    private sealed class Timeline
    {
        private readonly Entry[] entries;

        // The last closing among the entries of the range whose middle is here.
        private readonly Instant[] lastCloses;

        public Timeline(Entry[] entries)
        {
            this.entries = entries;
            Array.Sort(entries, static (x, y) => x.Window.Opens.CompareTo(y.Window.Opens));
            lastCloses = new Instant[entries.Length];
            Measure(0, entries.Length);
        }

        public IEnumerable<int> Numbers => entries.Select(entry => entry.Number);

        public void Find(Instant at, NumberSet numbers) => Find(0, entries.Length, at, numbers);

        private void Find(int from, int to, Instant at, NumberSet numbers)
        {
            while (from < to)
            {
                var middle = (from + to) >>> 1;
                if (lastCloses[middle] <= at)
                    return;
                Find(from, middle, at, numbers);
                var (window, number) = entries[middle];
                if (window.IsAhead(at))
                    return;
                if (!window.IsOver(at))
                    numbers.Add(number);
                from = middle + 1;
            }
        }

        private Instant Measure(int from, int to)
        {
            if (from == to)
                return Instant.MinValue;
            var middle = (from + to) >>> 1;
            return lastCloses[middle] = Instant.Max(
                entries[middle].Window.Closes,
                Instant.Max(Measure(from, middle), Measure(middle + 1, to))
            );
        }

        public readonly record struct Entry(OpenWindow Window, int Number);
    }
}
