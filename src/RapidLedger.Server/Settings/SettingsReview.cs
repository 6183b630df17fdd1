using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using NodaTime;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;
using RapidLedger.Storage;

namespace RapidLedger.Server.Settings;

/// <summary>What changed settings would do.</summary>
/// <param name="Problems">What is wrong with them, at its place; with any they are not written.</param>
/// <param name="Tape">What the tape's cart comes to then, in a sentence; null: the same as now, or there is none.</param>
/// <param name="Promotions">The live promotions that would say something else.</param>
/// <param name="Carts">The sample carts that would come out different.</param>
internal sealed record SettingsLook(
    IReadOnlyList<Problem> Problems,
    string? Tape,
    IReadOnlyList<Effect> Promotions,
    IReadOnlyList<Effect> Carts
);

/// <summary>
/// Looks at settings before they are written: whether they can be read, what they would take from under whom, and what changes.
/// </summary>
internal sealed class SettingsReview(OpenShop shop, ShopRepository repository, OrderRepository orders, IClock clock)
{
    private const int MostTold = 50;
    private const string TapeCart = "tape";

    /// <summary>What is wrong with settings as they will be.</summary>
    /// <param name="settings">What pricing does not need, whole.</param>
    /// <param name="store">What it needs, whole.</param>
    public IReadOnlyList<Problem> Problems(JsonObject settings, JsonObject store) => Read(settings, store, out _);

    /// <summary>All that is to be known before they are written.</summary>
    /// <param name="settings">What pricing does not need, whole.</param>
    /// <param name="store">What it needs, whole.</param>
    /// <param name="cart">The cart on the tape; null: there is none.</param>
    public SettingsLook Look(JsonObject settings, JsonObject store, JsonElement? cart)
    {
        var problems = Read(settings, store, out var then);
        if (then is null || problems.Count > 0)
            return new(problems, null, [], []);
        var (live, now) = (shop.LiveWith(then).Rulebook, clock.GetCurrentInstant());
        IEnumerable<Effect> Carts(IEnumerable<StoredCart> carts) =>
            CartEffects.Of(carts, live, then.Wording, shop, now, then.Settings.Effort);
        return new(
            problems,
            cart is { } tape ? Carts([new(TapeCart, "", tape.GetRawText())]).FirstOrDefault()?.What : null,
            [.. Sentences(live, then.Wording).Take(MostTold)],
            [.. Carts(shop.SampleCarts).Take(MostTold)]
        );
    }

    /// <summary>Whether settings can be read as they will be: asked inside the write.</summary>
    public static bool Accepts(ChangedRow row, List<Problem> problems)
    {
        if (row.Change is { Kind: "store", Id: "store" })
            problems.AddRange(At("/store", CaseReader.ReadStore(Bytes(row.After)).Problems));
        if (row.Change is { Kind: "store", Id: "settings" })
            problems.AddRange(At("/settings", SettingsReader.Read(Bytes(row.After)).Problems));
        return problems.Count == 0;
    }

    private List<Problem> Read(JsonObject settings, JsonObject store, out ShopSetup? then)
    {
        then = null;
        var (readSettings, readStore) = (SettingsReader.Read(Bytes(settings)), CaseReader.ReadStore(Bytes(store)));
        var problems = At("/settings", readSettings.Problems).Concat(At("/store", readStore.Problems)).ToList();
        if (readSettings.Value is not { } said || readStore.Value is not { } priced || problems.Count > 0)
            return problems;
        problems.AddRange(InUse(priced));
        if (problems.Count > 0)
            return problems;
        try
        {
            then = shop.Setup.With(said, priced, () => repository.Find()!.Goods, shop);
        }
        catch (StorageFault)
        {
            problems.Add(
                new("/store/currency", ProblemCode.TooManyDecimals, $"Some prices of the goods cannot be read in {priced.Currency.Code}.")
            );
            return problems;
        }

        // What rules name of settings: where that is the same, they can be read as before.
        static IEnumerable<string> Named(Store store) =>
            [
                .. store.Currencies.Select(currency => currency.Code),
                "",
                .. store.Families.Select(family => family.Name),
                "",
                .. store.Shipping.Select(method => method.Id),
            ];
        if (!Named(priced).SequenceEqual(Named(shop.Store)))
            problems.AddRange(Unreadable(then));
        return problems;
    }

    // What orders and goods still need cannot be taken from under them.
    private IEnumerable<Problem> InUse(Store store)
    {
        var now = shop.Store;
        if (store.Currency != now.Currency && orders.IsAnythingCounted())
            yield return new(
                "/store/currency",
                ProblemCode.NotAllowed,
                $"Orders have been counted in {now.Currency.Code}, so it stays. A shop in {store.Currency.Code} begins in a file of its own: rapid-ledger serve --data other.db"
            );
        var held = orders.HeldCarts().Select(cart => JsonNode.Parse(cart)!).ToArray();
        var goods = shop.Catalogue.Catalogue.Products.Where(product => !product.Gone).ToArray();
        foreach (var gone in now.Currencies.Except(store.Currencies).Where(currency => currency != now.Currency))
        {
            var priced = goods.SelectMany(product => product.Variants).Count(variant => !variant.Gone && IsPricedIn(variant, gone));
            if (priced > 0)
                yield return Stays("/store/rates", gone.Code, $"{Count(priced, "item has", "items have")} prices of their own in it");
            else if (held.Count(cart => (string?)cart["currency"] == gone.Code) is > 0 and var waiting)
                yield return Stays("/store/rates", gone.Code, $"{Count(waiting, "held order is", "held orders are")} in it");
        }

        foreach (var gone in now.Shipping.Where(method => store.Shipping.All(other => other.Id != method.Id)))
            if (held.Count(cart => (string?)cart["method"] == gone.Id) is > 0 and var waiting)
                yield return Stays("/store/shipping", gone.Name, $"{Count(waiting, "held order goes", "held orders go")} by it");
        var classes = (store.Tax?.Rates.Select(rate => rate.Class) ?? []).ToHashSet(StringComparer.Ordinal);
        foreach (
            var gone in (now.Tax?.Rates.Select(rate => rate.Class) ?? [])
                .Distinct(StringComparer.Ordinal)
                .Where(name => !classes.Contains(name))
        )
            if (store.Tax is not (null or { Mode: TaxMode.None }) && goods.Count(product => product.TaxClass == gone) is > 0 and var taxed)
                yield return Stays("/store/tax", gone, $"{Count(taxed, "product is", "products are")} taxed by it");
    }

    // Promotions that can be read now and could not be then.
    private IEnumerable<Problem> Unreadable(ShopSetup then)
    {
        foreach (var promotion in shop.Promotions.Where(promotion => promotion.Stored.State != "archived"))
        foreach (
            var document in ((string?[])[promotion.Stored.Document, promotion.Stored.Draft])
                .OfType<string>()
                .Distinct(StringComparer.Ordinal)
        )
        {
            if (shop.Read(document).Promotion is null || shop.Read(document, then) is not { Promotion: null } unread)
                continue;
            var problem = unread.Problems[0];
            yield return new(
                problem.Code switch
                {
                    ProblemCode.UnknownFamily => "/store/families",
                    ProblemCode.UnknownMethod => "/store/shipping",
                    ProblemCode.NoRate or ProblemCode.UnknownCurrency or ProblemCode.CurrencyMissing => "/store/rates",
                    _ => "/store",
                },
                ProblemCode.NotAllowed,
                $"The promotion “{promotion.Name}” needs it: {problem.Message}"
            );
            break;
        }
    }

    private IEnumerable<Effect> Sentences(Rulebook live, Wording then)
    {
        foreach (var promotion in live.Promotions)
        {
            if (shop.Find(promotion.Id)?.InForce is not { Promotion: { } known } now)
                continue;
            var clauses = Sentence.Clauses(promotion, then).ToDictionary(clause => clause.Name, clause => clause.Text);
            foreach (var clause in Sentence.Clauses(known, now.Wording))
                if (clauses.GetValueOrDefault(clause.Name) is { } text && text != clause.Text)
                    yield return new(promotion.Id, promotion.Named, $"“{clause.Text}” becomes “{text}”.");
        }
    }

    private static Problem Stays(string at, string name, string why) =>
        new(at, ProblemCode.NotAllowed, $"{name} cannot be taken out: {why}.");

    private static string Count(int count, string one, string many) => count == 1 ? $"1 {one}" : $"{count} {many}";

    private static bool IsPricedIn(Variant variant, Currency currency) =>
        variant.Regular.Find(currency) is not null || variant.Price?.Find(currency) is not null;

    private static IEnumerable<Problem> At(string place, IReadOnlyList<Problem> problems) =>
        problems.Select(problem => problem with { At = place + problem.At });

    private static byte[] Bytes(JsonObject document) => Encoding.UTF8.GetBytes(document.ToJsonString());
}
