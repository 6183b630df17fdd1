using System.Globalization;
using NodaTime;
using NodaTime.Text;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;
using RapidLedger.Storage;

namespace RapidLedger.Server.Selling;

/// <summary>What somebody types who looks for an order, read in every way that it can be meant.</summary>
internal static class OrderQuestion
{
    private const int MostShoppers = 200;
    private const int MostItems = 200;
    private const int FewestLetters = 2;

    /// <summary>Reads a question: a number, a name, a code, a promotion, a day, an item, an amount.</summary>
    /// <returns>The query, and in words how it was read.</returns>
    public static (OrderQuery Query, IReadOnlyList<string> ReadAs) Read(string q, OpenShop shop, ShopRepository shoppers, Instant now)
    {
        if (q.Length == 0)
            return (OrderQuery.All, []);
        var words = new List<string>();
        var isWord = !q.Contains(' ', StringComparison.Ordinal);
        if (isWord)
            words.Add($"a number or code that begins with {q}");
        var bareCode = Trigger.Bare(Trigger.Normal(q));
        var isLong = q.Length >= FewestLetters;
        string[] named = isLong ? [.. shoppers.SearchShoppers(q, MostShoppers).Select(shopper => shopper.Id)] : [];
        if (named.Length > 0)
            words.Add(Count(named.Length, MostShoppers, "shopper"));
        ShelvedPromotion[] promotions = isLong
            ?
            [
                .. shop.Promotions.Where(promotion =>
                    promotion.Name.Contains(q, StringComparison.CurrentCultureIgnoreCase)
                    || promotion.Stored.Id == q
                    || (promotion.InForce.Promotion?.Trigger?.Codes ?? []).Any(code => Trigger.Bare(Trigger.Normal(code)) == bareCode)
                ),
            ]
            : [];
        if (promotions.Length > 0)
            words.Add(promotions.Length == 1 ? $"the promotion {promotions[0].Name}" : $"{promotions.Length} promotions");
        var setup = shop.Setup;
        string[] skus = isLong ? [.. setup.Search.Numbers(q).Take(MostItems).Select(number => setup.Catalogue.Variant(number).Sku)] : [];
        if (skus.Length > 0)
            words.Add(skus.Length == 1 ? $"the item {skus[0]}" : Count(skus.Length, MostItems, "item"));
        var day = DayOf(q, shop, now);
        if (day is { } on)
            words.Add($"the day {setup.Wording.Say(on)}");
        var amounts = AmountsOf(q, shop);
        if (amounts.Count > 0)
            words.Add($"the amount {string.Join(" or ", amounts.Select(one => setup.WordingIn(one.Currency).Say(one.Minor)))}");
        return (
            new(
                isWord ? q : null,
                bareCode,
                [.. named, q],
                [.. promotions.Select(promotion => promotion.Stored.Id)],
                skus,
                day is { } date ? LocalDatePattern.Iso.Format(date) : null,
                amounts.Count == 0
                    ? null
                    : new(
                        shop.Store.Currency.Code,
                        [.. amounts.Select(one => new AmountIn(one.Currency.Code, one.Minor, one.Currency.Write(one.Minor)))]
                    ),
                null
            ),
            words
        );
    }

    private static string Count(int count, int most, string what) =>
        count == 1 ? $"1 {what}"
        : count < most ? $"{count} {what}s"
        : $"the first {most} {what}s of that name";

    // A date as people write it; without a year the last such day.
    private static LocalDate? DayOf(string q, OpenShop shop, Instant now)
    {
        var today = now.InZone(shop.Store.Zone).Date;
        if (q.Equals("today", StringComparison.OrdinalIgnoreCase))
            return today;
        if (q.Equals("yesterday", StringComparison.OrdinalIgnoreCase))
            return today.PlusDays(-1);
        var isDayFirst = shop.Culture.DateTimeFormat.ShortDatePattern.TrimStart().StartsWith('d');
        string[] whole =
        [
            "yyyy-MM-dd",
            "d MMM yyyy",
            "d MMMM yyyy",
            "MMM d yyyy",
            "MMMM d, yyyy",
            "d.M.yyyy",
            "d. MMMM yyyy",
            isDayFirst ? "d/M/yyyy" : "M/d/yyyy",
        ];
        string[] withoutYear = ["d MMM", "d MMMM", "MMM d", "MMMM d", "d.M.", "d. MMMM", isDayFirst ? "d/M" : "M/d"];
        foreach (var culture in (CultureInfo[])[shop.Culture, CultureInfo.InvariantCulture])
        {
            if (DateTime.TryParseExact(q, whole, culture, DateTimeStyles.AllowWhiteSpaces, out var date))
                return LocalDate.FromDateTime(date);
            if (DateTime.TryParseExact(q, withoutYear, culture, DateTimeStyles.AllowWhiteSpaces, out var inYear))
            {
                var last = LocalDate.FromDateTime(inYear).PlusYears(today.Year - inYear.Year);
                return last > today ? last.PlusYears(-1) : last;
            }
        }

        return null;
    }

    // An order came to it in the currency it was paid in: it is read in each that the store sells in.
    private static List<(Currency Currency, long Minor)> AmountsOf(string q, OpenShop shop)
    {
        var bare = q.Trim('€', '$', '£', '¥', ' ');
        foreach (var culture in (CultureInfo[])[CultureInfo.InvariantCulture, shop.Culture])
            if (decimal.TryParse(bare, NumberStyles.AllowDecimalPoint | NumberStyles.AllowThousands, culture, out var amount))
            {
                var text = amount.ToString(CultureInfo.InvariantCulture);
                var read = new List<(Currency, long)>();
                foreach (var currency in shop.Store.Currencies)
                    if (currency.Read(text, out var minor) == AmountFault.None)
                        read.Add((currency, minor));
                if (read.Count > 0)
                    return read;
            }

        return [];
    }
}
