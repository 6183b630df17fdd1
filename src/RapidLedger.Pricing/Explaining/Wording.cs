using System.Globalization;
using NodaTime;

namespace RapidLedger.Pricing;

/// <summary>
/// Says amounts, moments and items in words, in one currency and one locale. The sentences of each kind of condition, reward and
/// reason stand in files of their own beside this one.
/// </summary>
/// <param name="catalogue">Where names come from.</param>
/// <param name="currency">The currency of minor units said without one.</param>
/// <param name="culture">The locale; none: plain digits and ISO dates, as in files.</param>
/// <param name="placeNames">The names the shop gives to places, by code.</param>
/// <param name="promotionNames">The names of promotions, by id.</param>
/// <param name="language">Of the reader (BCP 47), where what is said is for shoppers; none: the store's.</param>
public sealed class Wording(
    CatalogueIndex catalogue,
    Currency currency,
    CultureInfo? culture = null,
    IReadOnlyDictionary<string, string>? placeNames = null,
    Func<string, string?>? promotionNames = null,
    string? language = null
)
{
    private static readonly Dictionary<string, string> Signs = new(StringComparer.Ordinal)
    {
        ["EUR"] = "€",
        ["GBP"] = "£",
        ["USD"] = "$",
        ["JPY"] = "¥",
    };

    private readonly CultureInfo dates = culture ?? CultureInfo.InvariantCulture;

    /// <summary>Where names come from.</summary>
    public CatalogueIndex Catalogue => catalogue;

    /// <summary>The same for shoppers who read a language.</summary>
    /// <param name="of">A tag of BCP 47; none: the store's.</param>
    public Wording InLanguage(string? of)
    {
        var tongue = ShopperTongue.Of(of, catalogue.Store.Language);
        var isOwn = culture is null ? tongue.Language == "en" : culture.TwoLetterISOLanguageName == tongue.Language;
        return new(catalogue, currency, isOwn ? culture : tongue.Culture, placeNames, promotionNames, of) { isForShopper = true };
    }

    /// <summary>What a condition takes, in the shopper's words: <c>from €50.00 of Tyres</c>.</summary>
    internal string Takes(Condition condition) => Tongue.Takes(condition, this);

    /// <summary>That one of some conditions is enough.</summary>
    internal string EitherOf(IEnumerable<IEnumerable<string>> ways) =>
        Join(ways.Select(Tongue.And).Where(way => way.Length > 0), Tongue.Or);

    /// <summary>That none of some conditions may hold.</summary>
    internal string NotIf(IEnumerable<IEnumerable<string>> ways) => $"{Tongue.Not} {EitherOf(ways)}";

    /// <summary>What the shopper reads of a promotion, in the reader's language.</summary>
    public string Label(Promotion promotion) =>
        promotion.Labels?.In(language, catalogue.Store.Language) is { } label && !string.IsNullOrWhiteSpace(label)
            ? label
            : promotion.Shown;

    /// <summary>The languages that the product itself speaks to shoppers, by their tags.</summary>
    public static IEnumerable<string> Languages => ShopperTongue.Languages;

    internal ShopperTongue Tongue => ShopperTongue.Of(language, catalogue.Store.Language);

    /// <summary>An amount: <c>€50.00</c>, or <c>50.00</c> without a locale.</summary>
    public string Say(long minor) => Say(minor, currency);

    /// <summary>An amount of another currency. Without a locale its currency is said wherever the cart's is not the shop's.</summary>
    public string Say(long minor, Currency of)
    {
        if (culture is null)
            return of == currency && of == catalogue.Store.Currency ? of.Write(minor) : $"{of.Write(minor)} {of}";
        var format = (NumberFormatInfo)culture.NumberFormat.Clone();
        format.CurrencySymbol = Signs.TryGetValue(of.Code, out var sign) ? sign : of.Code + "\u00a0";
        format.CurrencyDecimalDigits = of.Exponent;
        format.CurrencyNegativePattern = 1;
        return ((decimal)minor / of.MinorPerMajor).ToString("C", format);
    }

    /// <summary>
    /// An amount as named: in the wording's currency if it can be known, else as written. A merchant reads beside that of the shop's
    /// currency all the others that are named: <c>€95.00 (£80.00)</c>.
    /// </summary>
    public string Say(Amount amount)
    {
        var own = amount.For(currency, catalogue.Store) is { } minor ? Say(minor) : null;
        if (own is not null && (isForShopper || currency != catalogue.Store.Currency))
            return own;
        var named = amount
            .Named.Where(entry => own is null || entry.Currency != currency)
            .Select(entry => Say(entry.Minor, entry.Currency));
        var others = string.Join(", ", isForShopper ? named.Take(1) : named);
        return own is null ? others
            : others.Length == 0 ? own
            : $"{own} ({others})";
    }

    /// <summary>A percentage: <c>12.5 %</c>.</summary>
    public string Say(Percent percent) => $"{percent.Value.ToString("0.####", dates)}\u00a0%";

    /// <summary>A local time: <c>1 Mar 2027, 00:00</c>.</summary>
    public string Say(LocalDateTime local) => local.ToString(culture is null ? "uuuu-MM-dd HH:mm" : "d MMM uuuu, HH:mm", dates);

    /// <summary>A day: <c>1 Mar 2027</c>.</summary>
    public string Say(LocalDate day) => day.ToString(culture is null ? "uuuu-MM-dd" : "d MMM uuuu", dates);

    /// <summary>A local time at which something ends: the first moment of a day is the last of the day before it.</summary>
    public string SayEnd(LocalDateTime local) =>
        culture is null || local.TimeOfDay != LocalTime.Midnight
            ? Say(local)
            : $"{local.Date.PlusDays(-1).ToString("d MMM uuuu", dates)}, 24:00";

    /// <summary>A moment, in the store's time.</summary>
    public string Say(Instant moment) => Say(moment.InZone(catalogue.Store.Zone).LocalDateTime);

    /// <summary>How far a local time is ahead: <c>3 days</c> from Wednesday to Saturday, <c>5 hours</c>, <c>20 minutes</c>.</summary>
    public string Away(Instant now, LocalDateTime then)
    {
        var zone = catalogue.Store.Zone;
        return Between(now, then.InZoneLeniently(zone).ToInstant(), now.InZone(zone).Date, then.Date);
    }

    /// <summary>How long something lasts that ends at a local time: what ends on Monday at 0:00 lasts from Friday for two days.</summary>
    public string Lasts(Instant now, LocalDateTime end)
    {
        var zone = catalogue.Store.Zone;
        return Between(now, end.InZoneLeniently(zone).ToInstant(), now.InZone(zone).Date, end.PlusTicks(-1).Date);
    }

    /// <summary>How long ago a local time was: <c>3 days ago</c>; <c>just now</c> while grace holds.</summary>
    public string Ago(LocalDateTime then, Instant now)
    {
        var (zone, since) = (catalogue.Store.Zone, then.InZoneLeniently(catalogue.Store.Zone).ToInstant());
        return since >= now ? "just now" : $"{Between(since, now, then.Date, now.InZone(zone).Date)} ago";
    }

    /// <summary>A whole number.</summary>
    public static string Number(long number) => number.ToString(CultureInfo.InvariantCulture);

    /// <summary>The word for so many: <c>item</c>, <c>items</c>.</summary>
    public static string Plural(long number, string one) => Plural(number, one, one + "s");

    /// <summary>A word for one, or for any other number.</summary>
    public static string Plural(long number, string one, string many) => number == 1 ? one : many;

    /// <summary>A number and its word: <c>1 item</c>, <c>3 items</c>.</summary>
    public static string Counted(long number, string one) => $"{Number(number)} {Plural(number, one)}";

    /// <summary>Words in a row: <c>a, b or c</c>.</summary>
    public static string Join(IEnumerable<string> words, string last)
    {
        string[] all = [.. words];
        return all.Length < 2 ? string.Concat(all) : $"{string.Join(", ", all[..^1])} {last} {all[^1]}";
    }

    /// <summary>A selection: <c>Tubes or Tyres, without Moor tyre</c>.</summary>
    /// <param name="selection">What is said.</param>
    /// <param name="all">The words for every item.</param>
    public string Say(Selection selection, string all = "everything")
    {
        var words = selection.In.Any(term => term is Term.All) ? all : Join(selection.In.Select(Say), "or");
        if (selection.FullPriceOnly)
            words += " at full price";
        words += (selection.PriceFrom, selection.PriceTo) switch
        {
            ({ } from, { } to) => $" priced {Say(from)} to {Say(to)}",
            ({ } from, null) => $" priced {Say(from)} or more",
            (null, { } to) => $" priced {Say(to)} or less",
            _ => "",
        };
        return selection.Out.Count == 0 ? words : $"{words}, without {Join(selection.Out.Select(Say), "or")}";
    }

    /// <summary>A term: its name as people read it.</summary>
    public string Say(Term term) =>
        term switch
        {
            Term.All => "everything",
            Term.InCategory(var id) => catalogue.Categories.TryGetValue(id, out var category) ? category.Name : id,
            Term.OfBrand(var name) => name,
            Term.OfProduct(var id) => catalogue.Catalogue.Products.FirstOrDefault(product => product.Id == id)?.Name ?? id,
            Term.OfSku(var sku) => Item(sku),
            Term.Tagged(var name) => $"anything tagged {name}",
            Term.WithOption(var name, var value, null) => $"anything in {name} {value}",
            Term.WithOption(var name, var value, { } product) => $"{Say(new Term.OfProduct(product))} in {name} {value}",
            _ => throw new System.Diagnostics.UnreachableException(),
        };

    /// <summary>A variant: the product's name and what tells the variant from the others.</summary>
    public string Item(string sku)
    {
        var number = catalogue.Find(sku);
        if (number < 0)
            return sku;
        var options = string.Join(", ", catalogue.Variant(number).Options.Select(option => option.Value));
        return options.Length == 0 ? catalogue.ProductOf(number).Name : $"{catalogue.ProductOf(number).Name} ({options})";
    }

    /// <summary>A place: the name the shop gives it, else the country's name, or the code of a subdivision.</summary>
    public string Say(Place place)
    {
        if (placeNames is not null && placeNames.TryGetValue(place.Code, out var name))
            return name;
        var country = Countries.NameOf(place.Country) ?? place.Country;
        return place.IsCountry ? country : $"{place.Code} ({country})";
    }

    /// <summary>A promotion by its name; by its id where that is not known.</summary>
    public string Promotion(string id) => promotionNames?.Invoke(id) is { } name ? $"“{name}”" : id;

    /// <summary>Delivery methods by their names: <c>Parcel or Freight</c>.</summary>
    public string Methods(EquatableArray<string> ids) =>
        Join(ids.Select(id => catalogue.Store.Shipping.FirstOrDefault(method => method.Id == id)?.Name ?? id), "or");

    /// <summary>A comparison: <c>at least 3</c>.</summary>
    public static string Say(Comparison comparison, string number) =>
        comparison switch
        {
            Comparison.AtLeast => $"at least {number}",
            Comparison.MoreThan => $"more than {number}",
            Comparison.Exactly => $"exactly {number}",
            Comparison.AnythingBut => $"anything but {number}",
            Comparison.LessThan => $"fewer than {number}",
            _ => $"at most {number}",
        };

    /// <summary>Of what, with a space before it; nothing where it is of everything.</summary>
    public string Of(Selection? of) => of is null || of.IsEverything ? "" : $" of {Say(of)}";

    /// <summary>What is missing and what it would bring, for the merchant: <c>4.10 more brings 5 % off the order</c>.</summary>
    public string Say(Nudge nudge)
    {
        var more = (nudge.Measure == Measure.Spend ? $"{Say(nudge.Missing)} more" : Counted(nudge.Missing, "more item")) + Of(nudge.Of);
        var many = nudge.Measure == Measure.Quantity && nudge.Missing > 1;
        var saves = nudge.Saves == 0 ? "" : $" and save{(many ? "" : "s")} {Say(nudge.Saves)}";
        return $"{more} {(many ? "bring" : "brings")} {Join(nudge.Brings.Select(reward => reward.Say(this)), "and")}{saves}.";
    }

    // Days as people count them, once it is a day or more.
    private static string Between(Instant from, Instant to, LocalDate fromDay, LocalDate toDay)
    {
        var time = to - from;
        if (time.TotalHours >= 24)
            return Counted(Period.DaysBetween(fromDay, toDay), "day");
        return time.TotalHours >= 1 ? Counted((long)time.TotalHours, "hour") : Counted((long)Math.Max(1, time.TotalMinutes), "minute");
    }

    /// <summary>What is missing and what it brings, for the shopper: in the promotion's words, else in the product's.</summary>
    public string Tell(Nudge nudge) =>
        Own(
            nudge.Promotion,
            says => says.Near,
            part =>
                part switch
                {
                    "missing" => Figure(nudge.Measure, nudge.Missing),
                    "reward" => Tongue.And(nudge.Brings.Select(reward => Tongue.Reward(reward, this))),
                    "saved" => Say(nudge.Saves),
                    _ => null,
                }
        ) ?? Tongue.Say(nudge, this);

    /// <summary>Why a promotion did not apply, in the product's words for the shopper.</summary>
    public string Tell(Reason reason) => Tongue.Say(reason, this);

    /// <summary>A promotion that applied, for the shopper.</summary>
    public string Tell(Outcome outcome) =>
        Own(outcome.Promotion, says => says.Reached, part => part == "saved" ? Say(outcome.Amount) : null)
        ?? Tongue.Applied(Label(outcome.Promotion), outcome.Amount, this);

    /// <summary>What became of a code, for the shopper.</summary>
    public string Tell(CodeStatus code)
    {
        if (code.Promotion is not { } promotion)
            return Tongue.UnknownCode;
        if (code.Reason is not { } reason)
            return Label(promotion);
        // Of the code itself the product tells; what the promotion says is about itself.
        var own = reason is Reason.CodeSpent or Reason.NotNeeded ? null : Own(promotion, says => says.Refused, _ => null);
        return own ?? Tongue.Say(reason, this);
    }

    /// <summary>A code that is not looked at, because too many unknown ones were tried, for the shopper.</summary>
    public string TellTooMany() => Tongue.TooManyCodes;

    /// <summary>A step on the way to a promotion: reached, or what is missing to it.</summary>
    internal string Tell(Promotion promotion, Measure measure, long missing, Selection? of, IEnumerable<Reward> brings)
    {
        var words = missing > 0 ? Tongue.Missing(measure, missing, of, this) : null;
        var own =
            missing > 0
                ? Own(
                    promotion,
                    says => says.Near,
                    part =>
                        part switch
                        {
                            "missing" => Figure(measure, missing),
                            "reward" => Tongue.And(brings.Select(reward => Tongue.Reward(reward, this))),
                            _ => null,
                        }
                )
                : null;
        return own ?? Tongue.Step(Label(promotion), words, this);
    }

    /// <summary>What a promotion offers, for the shopper.</summary>
    public string Announce(Promotion promotion) =>
        Tongue.And(promotion.Rewards.Select(reward => Tongue.Reward(reward, this))) is { Length: > 0 } words
            ? char.ToUpper(words[0], dates) + words[1..]
            : Label(promotion);

    private string Figure(Measure measure, long missing) => measure == Measure.Spend ? Say(missing) : Number(missing);

    // The promotion's own text with its parts filled in; null: it has none, or speaks of what is not known here.
    private string? Own(Promotion promotion, Func<Says, Texts?> which, Func<string, string?> known)
    {
        if (
            promotion.Says is not { } says
            || which(says)?.In(language, catalogue.Store.Language) is not { } text
            || string.IsNullOrWhiteSpace(text)
        )
            return null;
        if (
            (text.Contains("{saved}", StringComparison.Ordinal) && known("saved") is null)
            || (text.Contains("{missing}", StringComparison.Ordinal) && known("missing") is null)
        )
            return null;
        return Says.Fill(text, part => known(part)
            ?? part switch
            {
                "label" => Label(promotion),
                "reward" => Tongue.And(promotion.Rewards.Select(reward => Tongue.Reward(reward, this))),
                "ends" => promotion.Window?.End is { } end ? SayEnd(end) : "",
                "left" => promotion.Limits?.Total is { } total ? Number(Math.Max(0, total - (used?.Invoke(promotion.Id) ?? 0))) : "",
                _ => "",
            });
    }

    private Func<string, long>? used;

    // Whoever buys pays in one currency.
    private bool isForShopper;

    /// <summary>The same, knowing how often promotions have been used.</summary>
    /// <param name="total">Orders in all, by promotion.</param>
    public Wording Knowing(Func<string, long> total) =>
        new(catalogue, currency, culture, placeNames, promotionNames, language) { used = total, isForShopper = isForShopper };

    /// <summary>Why a promotion did not apply: see <see cref="ReasonWords"/>.</summary>
    public string Say(Reason reason, Instant now) => ReasonWords.Say(reason, now, this);
}
