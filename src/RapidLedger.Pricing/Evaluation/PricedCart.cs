namespace RapidLedger.Pricing;

/// <summary>A priced cart, entry by entry. All amounts are minor units of its currency.</summary>
public sealed class PricedCart
{
    private readonly PricingStory story;

    // Worked out when first asked for; two threads that ask at once come to the same.
    private IReadOnlyList<Outcome>? outcomes;
    private IReadOnlyList<Outcome>? applied;
    private Nearness? near;
    private IReadOnlyList<CodeStatus>? codes;
    private IReadOnlyList<Nudge>? nudges;
    private IReadOnlyList<Progress>? progress;

    internal PricedCart(PricingStory story) => this.story = story;

    /// <summary>What was priced.</summary>
    public Cart Cart => story.View.Cart;

    /// <summary>The currency of every amount here.</summary>
    public Currency Currency => story.View.Currency;

    /// <summary>One for each line of the cart, in its order.</summary>
    public required IReadOnlyList<PricedLine> Lines { get; init; }

    /// <summary>What was given beside the cart: one for each promotion and SKU, in the order given.</summary>
    public required IReadOnlyList<PricedGift> Gifts { get; init; }

    /// <summary>The sums.</summary>
    public required Totals Totals { get; init; }

    /// <summary>The tax by class.</summary>
    public required IReadOnlyList<TaxLine> Taxes { get; init; }

    /// <summary>Whether the choice among the eligible promotions is known to be what the store's policy asks for.</summary>
    public required bool Proved { get; init; }

    /// <summary>If that is not proved: no choice is worth more by more than this. Null: it is proved.</summary>
    public required long? Gap { get; init; }

    /// <summary>The work that the choice took, in units near to a run of units looked at.</summary>
    public required long Work { get; init; }

    /// <summary>What the choice is worth: saving, and the value of gifts offered and not picked yet.</summary>
    public required long Worth { get; init; }

    /// <summary>What became of every live promotion, in order of application. Worked out when first asked for.</summary>
    public IReadOnlyList<Outcome> Outcomes => outcomes ??= Explanation.Of(story, Worth);

    /// <summary>What became of those that applied, in order of application.</summary>
    public IReadOnlyList<Outcome> Applied =>
        applied ??= [
            .. (story.PricePass?.Outcomes() ?? [])
                .Select(entry => entry.Outcome)
                .Concat((story.Paid ?? []).Select(paid => paid.Outcome))
                .Where(outcome => outcome.Applied)
                .Concat(story.Applied)
                .OrderBy(outcome => outcome.Promotion, Promotion.Order),
        ];

    /// <summary>What markdowns took from lines, against the catalogue's prices.</summary>
    internal IEnumerable<(int Line, Promotion Promotion, long Amount, long Units)> MarkedDown => story.PricePass?.ByLine() ?? [];

    /// <summary>What became of every code entered, in normal form, once each, in the order entered.</summary>
    public IReadOnlyList<CodeStatus> Codes => codes ??= StatusOfCodes();

    /// <summary>
    /// What is missing to promotions that do not apply, and to more of those that do, the smallest additions first, at most
    /// <see cref="Nudge.Most"/>. Each has been tried on the cart. Worked out when asked for.
    /// </summary>
    public IReadOnlyList<Nudge> Nudges => nudges ??= Nudge.For(this, story, Near);

    /// <summary>How often a promotion had been used when the cart was priced, in all.</summary>
    public long UsesOf(string promotion) => story.Eligibility.Used.GetValueOrDefault(promotion, Usage.None).Total;

    /// <summary>
    /// How far the cart is on the way to promotions that start by themselves, at most <see cref="Pricing.Progress.Most"/>. Worked out when
    /// asked for.
    /// </summary>
    public IReadOnlyList<Progress> Progress => progress ??= Pricing.Progress.In(story);

    /// <summary>What an order of it uses up.</summary>
    public UsedUp UsesUp() => UsedUp.Of(this, story.Paid ?? []);

    /// <summary>Those that did not apply, nearest first: the others are not gone into, however many there are.</summary>
    /// <param name="most">At most so many.</param>
    public IReadOnlyList<Outcome> Nearest(int most) => Near.Nearest(most);

    /// <summary>Margin as a share of net without tax; null if it is not known or nothing is paid.</summary>
    public decimal? MarginShare => ShareOfNet(Totals.Margin);

    /// <summary>The same of what is left once delivery is paid.</summary>
    public decimal? ContributionShare => ShareOfNet(Totals.Contribution);

    private decimal? ShareOfNet(long? earned) => earned is { } amount && NetWithoutTax is > 0 and var net ? (decimal)amount / net : null;

    private Nearness Near => near ??= new(story, Worth);

    private long? NetWithoutTax =>
        Lines.Aggregate((long?)0, (sum, line) => sum + line.Cost + line.Margin)
        + Gifts.Aggregate((long?)0, (sum, gift) => sum + gift.Cost + gift.Margin);

    /// <summary>The catalogue it was priced with.</summary>
    public CatalogueIndex Catalogue => story.Rulebook.Catalogue;

    internal CartView View => story.View;

    /// <summary>What became of a promotion that applied, markdowns apart; null: it did not.</summary>
    internal Outcome? Find(Promotion promotion)
    {
        foreach (var outcome in story.Applied)
            if (outcome.Promotion.Id == promotion.Id)
                return outcome;
        foreach (var paid in story.Paid ?? [])
            if (paid.Outcome.Promotion.Id == promotion.Id && paid.Outcome.Applied)
                return paid.Outcome;
        return null;
    }

    /// <summary>Whether a promotion applied, a markdown or a credit too.</summary>
    internal bool HasApplied(string id)
    {
        foreach (var outcome in Applied)
            if (outcome.Promotion.Id == id)
                return true;
        return false;
    }

    /// <summary>What became of one promotion of the rulebook; the others are not gone into.</summary>
    internal Outcome OutcomeOf(CompiledPromotion promotion) => Explanation.Of(story, Worth, [promotion])[0];

    // Of several promotions that share a code the first that applied, else the first.
    private IReadOnlyList<CodeStatus> StatusOfCodes()
    {
        var statuses = new List<CodeStatus>();
        foreach (var code in story.Eligibility.Entered)
        {
            CompiledPromotion[] started = [.. story.Rulebook.StartedBy(code)];
            var outcomes = Explanation.Of(story, Worth, started);
            var told = Math.Max(0, Array.FindIndex(outcomes, outcome => outcome.Applied));
            statuses.Add(
                outcomes.Length == 0 ? new(code.Normal, null, null, code.OfBatch?.Batch) : StatusOf(code, started[told], outcomes[told])
            );
        }

        return statuses;
    }

    // What is wrong with the code itself comes before what became of its promotion.
    private CodeStatus StatusOf(EnteredCode code, CompiledPromotion promotion, Outcome outcome)
    {
        var (batch, own) = (code.OfBatch?.Batch, promotion.Promotion);
        if (story.Eligibility.FaultOf(code, promotion, story.View) is { } fault)
            return new(
                code.Normal,
                own,
                new Reason.CodeSpent(code.Normal, fault, code.OfBatch?.LastDay),
                batch,
                promotion.Credit is not null && fault == CodeFault.UsedUp ? 0 : null
            );
        if (!outcome.Applied)
            return new(code.Normal, own, outcome.Reason, batch);
        if (promotion.Credit is not null && story.Paid?.Find(paid => paid.Promotion == promotion) is { } paid)
        {
            if (Array.Find(paid.Cards, card => card.Code == code.Normal) is not { } card)
                return new(code.Normal, own, new Reason.NotNeeded(), batch);
            return new(code.Normal, own, card.Amount > 0 ? null : new Reason.NothingLeft(), batch, card.Amount);
        }

        return new(
            code.Normal,
            own,
            story.Eligibility.GoodCodesOf(promotion, story.View).First() == code ? null : new Reason.NotNeeded(),
            batch
        );
    }
}

/// <summary>One priced line.</summary>
/// <param name="Sku">What it holds.</param>
/// <param name="Quantity">Units.</param>
/// <param name="Regular">At regular prices.</param>
/// <param name="Goods">At current prices.</param>
/// <param name="Net">What is to be paid for it.</param>
/// <param name="WithoutTax">The same without the tax in it.</param>
/// <param name="Cost">What it costs the shop; null: not known.</param>
/// <param name="Margin">Net without tax, less cost; null: not known.</param>
/// <param name="Parts">What each promotion took from it, in order of application; they add up to goods less net.</param>
public sealed record PricedLine(
    string Sku,
    int Quantity,
    long Regular,
    long Goods,
    long Net,
    long WithoutTax,
    long? Cost,
    long? Margin,
    ArraySegment<Part> Parts
);

/// <summary>What a promotion took from a line.</summary>
/// <param name="Promotion">Which.</param>
/// <param name="Amount">How much, above zero.</param>
/// <param name="Units">From how many of the line's units.</param>
public readonly record struct Part(Promotion Promotion, long Amount, long Units);

/// <summary>Units given beside the cart.</summary>
/// <param name="Promotion">By which.</param>
/// <param name="Sku">What.</param>
/// <param name="Quantity">How many.</param>
/// <param name="Value">At current prices.</param>
/// <param name="Net">What is to be paid for them.</param>
/// <param name="WithoutTax">The same without the tax in it.</param>
/// <param name="Cost">What they cost the shop; null: not known.</param>
/// <param name="Margin">Net without tax, less cost; null: not known.</param>
public sealed record PricedGift(
    Promotion Promotion,
    string Sku,
    long Quantity,
    long Value,
    long Net,
    long WithoutTax,
    long? Cost,
    long? Margin
);

/// <summary>Gifts that wait to be picked.</summary>
/// <param name="Skus">Of which, as far as there are any left.</param>
/// <param name="Units">How many may be picked.</param>
public sealed record ToPick(IReadOnlyList<string> Skus, long Units);

/// <summary>What became of a live promotion.</summary>
/// <param name="Promotion">Which.</param>
/// <param name="Amount">What it took off.</param>
/// <param name="Units">How many units of the cart it lowered, and gift units it gave.</param>
/// <param name="Reason">Why it did not apply; null: it did.</param>
/// <param name="ToPick">Its gifts that wait to be picked, if any.</param>
/// <param name="GiftOut">Fewer gifts were given than it promises, because they have run out.</param>
public sealed record Outcome(Promotion Promotion, long Amount, long Units, Reason? Reason, ToPick? ToPick = null, bool GiftOut = false)
{
    /// <summary>Whether it applied.</summary>
    public bool Applied => Reason is null;
}

/// <summary>What became of a code.</summary>
/// <param name="Code">In normal form.</param>
/// <param name="Promotion">Whose it is; null: nobody's.</param>
/// <param name="Reason">Why that did not apply, or why the code was not used; null: it was, or the code is unknown.</param>
/// <param name="Batch">The batch it is of, if any.</param>
/// <param name="Paid">Of a card: what it paid, in minor units of the cart's currency.</param>
public sealed record CodeStatus(string Code, Promotion? Promotion, Reason? Reason, string? Batch = null, long? Paid = null)
{
    /// <summary>The name used in files.</summary>
    public string Status => Promotion is null ? "unknown" : Reason?.Code ?? "applied";
}

/// <summary>The tax of one class.</summary>
/// <param name="Class">The class.</param>
/// <param name="Percent">Its rate at the destination.</param>
/// <param name="Base">What it is worked out on.</param>
/// <param name="Tax">The tax.</param>
public sealed record TaxLine(string Class, Percent Percent, long Base, long Tax);

/// <summary>The sums of a priced cart.</summary>
/// <param name="Regular">At regular prices.</param>
/// <param name="Goods">At current prices.</param>
/// <param name="Discount">Taken off the goods.</param>
/// <param name="Net">What is to be paid for goods and gifts.</param>
/// <param name="GiftValue">The gifts at current prices.</param>
/// <param name="Shipping">The delivery charge.</param>
/// <param name="ShippingDiscount">Taken off it.</param>
/// <param name="Tax">The tax, in the prices or on top.</param>
/// <param name="Total">What the order comes to.</param>
/// <param name="Credit">What credits paid of it.</param>
/// <param name="Due">What is left to pay.</param>
/// <param name="Margin">Net without tax, less cost; null: not known.</param>
/// <param name="Contribution">Margin, and delivery charged without tax, less what delivery costs; null: not known.</param>
/// <param name="Saving">What the promotions took off goods, gifts and delivery.</param>
/// <param name="Points">Points awarded.</param>
/// <param name="ShippingUnavailable">The method does not deliver there, or not at that weight.</param>
public sealed record Totals(
    long Regular,
    long Goods,
    long Discount,
    long Net,
    long GiftValue,
    long Shipping,
    long ShippingDiscount,
    long Tax,
    long Total,
    long Credit,
    long Due,
    long? Margin,
    long? Contribution,
    long Saving,
    long Points,
    bool ShippingUnavailable
);
