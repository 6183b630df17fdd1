using RapidLedger.Formats;
using RapidLedger.Server.Settings;
using RapidLedger.Server.Shop;
using RapidLedger.Storage;

namespace RapidLedger.Server.Goods;

/// <summary>Brings lines of goods or shoppers into the shop: all of them, or none where one is bad.</summary>
internal sealed class GoodsWriter(OpenShop shop, StepRepository steps, PastOrderBatches past, RenameRepository renames)
{
    /// <summary>Whether this process goes on with what is written: a command that ends does not.</summary>
    public bool Follows { get; init; } = true;

    /// <summary>Writes lines of items. When it comes back, this process prices by them.</summary>
    public async Task<(StepOutcome Outcome, IReadOnlyList<BadLine> Bad)> Write(
        StepSource source,
        string what,
        ItemLines lines,
        Action<int>? progress = null,
        CancellationToken gone = default
    )
    {
        if (lines.Bad.Count > 0)
            return (StepOutcome.Nothing, lines.Bad);
        var outcome = await steps.Write(source, what, lines.Changes, lines.Stocks, lines.Accepts, progress, gone);
        await Follow();
        return (outcome, lines.Bad);
    }

    /// <summary>Writes lines of shoppers.</summary>
    public async Task<(StepOutcome Outcome, IReadOnlyList<BadLine> Bad)> Write(
        StepSource source,
        string what,
        ShopperLines lines,
        Action<int>? progress = null,
        CancellationToken gone = default
    ) =>
        lines.Bad.Count > 0
            ? (StepOutcome.Nothing, lines.Bad)
            : (await steps.Write(source, what, lines.Changes, [], _ => true, progress, gone), lines.Bad);

    /// <summary>Takes an item out: its SKU stays known.</summary>
    /// <returns>What came of it; null: there is no such item.</returns>
    public async Task<StepOutcome?> TakeOut(StepSource source, string sku)
    {
        if (shop.Catalogue.Find(sku) < 0)
            return null;
        var outcome = await steps.Write(source, $"{sku} taken out", [new("variant", sku, new() { ["gone"] = true })], [], _ => true);
        await Follow();
        return outcome;
    }

    /// <summary>Takes a step back.</summary>
    /// <returns>Null: there is no such step any more, or it was taken back already.</returns>
    public async Task<(StepOutcome Outcome, IReadOnlyList<Problem> Problems)?> TakeBack(long number, string what)
    {
        if (await past.TakeBack(number, what) is { } orders)
            return (orders, []);
        if (await renames.TakeBack(number, what) is { } back)
        {
            await Follow();
            return (back, []);
        }

        var (problems, rules) = (new List<Problem>(), new GoodsRules(shop.Setup, []));
        var outcome = await steps.TakeBack(number, what, row =>
        {
            if (row.Change.Kind is "variant" or "product" or "category")
                problems.AddRange(rules.Problems(row));
            return SettingsReview.Accepts(row, problems);
        });
        await Follow();
        return outcome is null ? null : (outcome, problems);
    }

    private Task Follow() => Follows ? shop.FollowSetup() : Task.CompletedTask;
}
