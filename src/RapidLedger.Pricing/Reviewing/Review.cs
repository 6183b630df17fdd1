namespace RapidLedger.Pricing;

/// <summary>The second look at a promotion before it costs anything.</summary>
public static class Review
{
    private static readonly Check[] Checks =
    [
        new NameMissing(),
        new LabelMissing(),
        new CodeShared(),
        new CodeWeak(),
        new WindowPast(),
        new StartPassed(),
        new WindowAtClockChange(),
        new Contradiction(),
        new EmptyBracket(),
        new MoreThanRound(),
        new Exactly(),
        new NothingGiven(),
        new LimitOfNothing(),
        new UnnamedItem(),
        new WholeOrderUnlimited(),
        new EachUnit(),
        new OncePerCart(),
        new BelowCost(),
        new BelowCostTogether(),
        new AbovePrice(),
        new NobodyInGroup(),
        new TakenOut(),
        new DeliveryLoses(),
        new NoEnd(),
        new ShopperUnlimited(),
        new GiftStock(),
        new DearDelivery(),
        new LabelFigure(),
        new LabelAmount(),
        new LabelDate(),
        new NothingCounts(),
        new JustAbovePrice(),
        new SameDay(),
        new Meets(),
        new NeverChosen(),
        new PushesOut(),
        new TakenFromFullPrice(),
        new AddsToMarkdown(),
        new CheapestTaken(),
    ];

    /// <summary>
    /// All that is found, what matters most first. A check with which something goes wrong says so, and the others go on.
    /// </summary>
    /// <exception cref="OperationCanceledException">Nobody waits for it any more.</exception>
    public static IReadOnlyList<Finding> Of(Promotion promotion, Surroundings around) =>
        [.. Checks.SelectMany(check => Contained(check, promotion, around)).OrderBy(finding => finding.Severity)];

    /// <summary>What stops a start, and nothing else is looked for: it takes the same however many others are live.</summary>
    public static IReadOnlyList<Finding> Errors(Promotion promotion, Surroundings around) =>
        [
            .. Checks
                .OfType<StoppingCheck>()
                .SelectMany(check => Contained(check, promotion, around))
                .Where(finding => finding.Severity == Severity.Error),
        ];

    private static IEnumerable<Finding> Contained(Check check, Promotion promotion, Surroundings around)
    {
        around.Gone.ThrowIfCancellationRequested();
        try
        {
            return [.. check.Find(promotion, around)];
        }
        catch (Exception error) when (error is not OperationCanceledException)
        {
            return [new(check.Name, Severity.Remark, "", $"This could not be looked at: {error.Message}")];
        }
    }
}
