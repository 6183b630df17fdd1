using RapidLedger.Formats;
using RapidLedger.Server.Archives;
using RapidLedger.Server.Settings;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Commands;

/// <summary>What <c>import</c> does with a whole shop: it fills an empty file, or takes the place of the shop that is there.</summary>
/// <param name="Replace">Whether it may take the place of a shop.</param>
/// <param name="BeginsAnew">Whether it is known that uses of limited promotions begin at none.</param>
internal sealed record WholeImport(bool Replace, bool BeginsAnew)
{
    private const int MostTold = 1_000;

    /// <summary>Puts the shop of a folder or zip into a store.</summary>
    /// <returns>What is wrong; empty: it was done, and <paramref name="said"/> says what.</returns>
    public async Task<IReadOnlyList<string>> Run(string path, string data, Action<string> said)
    {
        var (read, problems) = ArchiveFolder.Read(path);
        if (read is not { } archive)
            return [.. problems.Take(MostTold).Select(problem => problem.ToString())];
        if (ShopImport.BeginningAnew(archive) is { Count: > 0 } limited && !BeginsAnew)
            return
            [
                "These promotions are live and have limits or give credit; their uses and draws would begin at none:",
                .. limited.Select(name => $"  {name}"),
                "If that is meant, add --uses-begin-anew. To move a shop with all that was done in it, use backup and restore.",
            ];
        var clock = ProgramClock.Machine;
        var (orders, bad) = await ArchivedOrders.Read(path, archive, clock.GetCurrentInstant());
        if (bad.Count > 0)
            return [.. bad.Take(MostTold).Select(problem => problem.ToString())];
        // A whole shop makes a file where there is none.
        var isThere = File.Exists(data);
        using var database = new Database(data);
        database.Upgrade();
        var whole = new WholeShopRepository(database, clock);
        var shop = ShopImport.Whole(archive, clock.GetCurrentInstant());
        var outcome = await whole.Fill(shop);
        if (outcome.Taken.Count > 0)
            return [ShopImport.Say(outcome.Taken)];
        if (outcome.IsDone)
        {
            if (orders is not null)
                await ArchivedOrders.Bring(new(database, clock), NameOf(path), orders);
            said(
                $"{Counts(archive)}{(orders is null ? "" : $", {orders.Numbers.Count()} orders from before")} in {(isThere ? data : $"a new file, {data}")}."
            );
            return [];
        }

        if (!Replace)
            return [$"{data} holds a shop already. Add --replace to put this one in its place: orders, uses, keys and history stay."];
        var faults = await Take(archive, shop, database, whole, path, said);
        if (faults.Count == 0 && orders is not null)
            said($"{ArchivePaths.Orders} was left alone: the orders of {data} stay as they are.");
        return faults;
    }

    private static async Task<IReadOnlyList<string>> Take(
        ShopArchive archive,
        WholeShop shop,
        Database database,
        WholeShopRepository whole,
        string path,
        Action<string> said
    )
    {
        var clock = ProgramClock.Machine;
        var (open, repository) = (OpenShop.Of(database, clock), new ShopRepository(database));
        if (archive.Store["currency"]?.ToString() != open.Store.Currency.Code)
            return
            [
                $"{ArchivePaths.Store}: it is in {archive.Store["currency"]}, this shop in {open.Store.Currency.Code}. Import it into a new file.",
            ];
        var backup = $"{database.Path}.before-import";
        database.Backup(backup);
        var (rows, stocks) = ShopImport.Changes(archive, open.Setup, repository.Find()!);
        var faults = new List<Problem>();
        var outcome = await whole.Replace(shop, $"import of {NameOf(path)}", StepSource.File(NameOf(path)), rows, stocks, row =>
            SettingsReview.Accepts(row, faults)
        );
        if (faults.Count > 0)
            return [.. faults.Select(fault => $"{ArchivePaths.Store}{fault.At}: {fault.Message}")];
        if (outcome.Taken.Count > 0)
            return [ShopImport.Say(outcome.Taken)];
        said($"{Counts(archive)}; {outcome.Changed} promotions differ from before. The shop as it was is in {backup}.");
        return [];
    }

    private static string NameOf(string path) => Path.GetFileName(Path.TrimEndingDirectorySeparator(path));

    private static string Counts(ShopArchive archive) =>
        $"{archive.Catalogue["products"]!.AsArray().Sum(product => product!["variants"]!.AsArray().Count)} items, {archive.Promotions.Count} promotions, {archive.Batches.Count} batches of codes, {archive.Carts.Count} carts, {(archive.Shoppers is { } shoppers ? $"{shoppers.Count} shoppers" : "no shoppers")}";
}
