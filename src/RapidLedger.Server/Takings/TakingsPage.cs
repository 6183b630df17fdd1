using NodaTime;
using NodaTime.Text;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Takings;

/// <summary>A bar of the picture.</summary>
/// <param name="At">The day, the Monday of the week, or the hour: ISO 8601, local.</param>
/// <param name="Orders">Orders.</param>
/// <param name="Takings">Net without tax.</param>
/// <param name="Given">What was given.</param>
/// <param name="Margin">What was left after cost, of the orders whose costs are known; null: of none.</param>
internal sealed record TakingsBar(string At, long Orders, string Takings, string Given, string? Margin);

/// <summary>Something that was done with a promotion.</summary>
/// <param name="Day">The store's date.</param>
/// <param name="What">started, changed or paused.</param>
/// <param name="Edition">The edition that came of it.</param>
internal sealed record TakingsMark(string Day, string What, long Edition);

/// <summary>A row of a short table.</summary>
/// <param name="Word">What it is of.</param>
/// <param name="Asked">What finds its orders; null: nothing does.</param>
/// <param name="Figures">Its figures.</param>
internal sealed record TakingsPart(string Word, string? Asked, TakingsFigures Figures);

/// <summary>A short table: figures by code, place, channel, currency, group or item.</summary>
/// <param name="By">code, place, channel, currency, group or item.</param>
/// <param name="Parts">The twenty largest.</param>
/// <param name="Rest">All others in one; null: there are none.</param>
internal sealed record TakingsTableOf(string By, IReadOnlyList<TakingsPart> Parts, TakingsFigures? Rest);

/// <summary>What one promotion brought.</summary>
/// <param name="Id">Its id; * all orders, - those without any promotion.</param>
/// <param name="Name">What it is called.</param>
/// <param name="Unit">What a bar is: hour, day or week.</param>
/// <param name="Bars">The picture.</param>
/// <param name="Marks">What was done with it in that time.</param>
/// <param name="Tables">The short tables.</param>
/// <param name="Figures">Its figures of the stretch.</param>
/// <param name="OtherAverage">What orders without it came to on average in the same time; null: there are none.</param>
/// <param name="BudgetUsed">What of its budget is used, where it has one: what came back still counts there.</param>
/// <param name="IsBehind">Whether the short tables are being added up still.</param>
internal sealed record PromotionTakings(
    string Id,
    string Name,
    string Unit,
    IReadOnlyList<TakingsBar> Bars,
    IReadOnlyList<TakingsMark> Marks,
    IReadOnlyList<TakingsTableOf> Tables,
    TakingsFigures Figures,
    string? OtherAverage,
    string? BudgetUsed,
    bool IsBehind
);

/// <summary>The right page of takings: one promotion, day by day, and by what its orders were.</summary>
internal static class TakingsPage
{
    private const int MostParts = 20;
    private const int MostDaysByHour = 2;
    private const int MostDaysByDay = 92;

    private static readonly LocalDateTimePattern Hour = LocalDateTimePattern.CreateWithInvariantCulture("uuuu'-'MM'-'dd'T'HH':00'");

    // Codes and batches stand in one table: a batch is a line of it.
    private static readonly Dictionary<string, string> TableOf = new(StringComparer.Ordinal)
    {
        ["code"] = "code",
        ["batch"] = "code",
        ["place"] = "place",
        ["channel"] = "channel",
        ["currency"] = "currency",
        ["group"] = "group",
        ["item"] = "item",
    };

    public static IResult Of(
        string promotion,
        string? from,
        string? to,
        bool? brought,
        OpenShop shop,
        TakingsBook book,
        TakingsParts takings,
        PromotionRepository promotions,
        IClock clock
    )
    {
        if (Stretch.Read(from, to, TakingsEndpoints.Today(shop, clock)) is not { } stretch)
            return TakingsEndpoints.NoStretch();
        var shelved = shop.Find(promotion);
        if (shelved is null && promotion is not (Contribution.All or Contribution.Without))
            return Answers.NoPromotion(promotion);
        var currency = shop.Store.Currency;
        var rows = book.Of(stretch, brought == true);
        var (own, held) = rows.GetValueOrDefault(promotion);
        var all = rows.GetValueOrDefault(Contribution.All).Taken;
        var parts = takings.Of(promotion, stretch.First, stretch.Last);
        var unit =
            stretch.Days <= MostDaysByHour ? "hour"
            : stretch.Days <= MostDaysByDay ? "day"
            : "week";
        var others = all - own;
        return Results.Ok(
            new PromotionTakings(
                promotion,
                shelved?.Name ?? (promotion == Contribution.All ? "All orders" : "Without any promotion"),
                unit,
                [.. Bars(unit, stretch, book.ByDay(stretch, brought == true, promotion), parts, promotion, shop)],
                shelved is null ? [] : [.. Marks(promotions.History(promotion).Spans, stretch, shop)],
                [.. Tables(parts, shop)],
                TakingsFigures.Of(own, currency, held),
                promotion is Contribution.All or Contribution.Without ? null
                    : others.AverageOrder is { } average ? currency.Write(average)
                    : null,
                shelved?.InForce.Promotion?.Limits?.Budget is not null
                && shop.UsageAt(clock.GetCurrentInstant()).GetValueOrDefault(promotion) is { Budget: > 0 } usage
                    ? currency.Write(usage.Budget)
                    : null,
                takings.IsBehind()
            )
        );
    }

    private static IEnumerable<TakingsBar> Bars(
        string unit,
        Stretch stretch,
        IReadOnlyDictionary<(string Day, string Promotion), Contribution> days,
        IReadOnlyList<Storage.TakingsPart> parts,
        string promotion,
        OpenShop shop
    )
    {
        var currency = shop.Store.Currency;
        if (unit == "hour")
        {
            var byHour = parts.Where(part => part.Part == "hour").ToDictionary(part => part.Word, part => part.Figures);
            for (var at = stretch.From.AtMidnight(); at.Date <= stretch.To; at = at.PlusHours(1))
                yield return Bar(Hour.Format(at), byHour.GetValueOrDefault(Hour.Format(at)), currency);
            yield break;
        }

        var bars = new SortedDictionary<LocalDate, Contribution>();
        for (var day = stretch.From; day <= stretch.To; day = day.PlusDays(1))
        {
            var at = unit == "day" ? day : day.With(DateAdjusters.PreviousOrSame(IsoDayOfWeek.Monday));
            bars[at] = bars.GetValueOrDefault(at) + days.GetValueOrDefault((LocalDatePattern.Iso.Format(day), promotion));
        }

        foreach (var (at, figures) in bars)
            yield return Bar(LocalDatePattern.Iso.Format(at), figures, currency);
    }

    private static TakingsBar Bar(string at, Contribution figures, Currency currency) =>
        new(
            at,
            figures.Orders,
            currency.Write(figures.Takings),
            currency.Write(figures.Given + figures.GivenDelivery),
            figures.MarginOf == 0 && figures.Takings > 0 ? null : currency.Write(figures.Margin)
        );

    // A span that another follows at once was changed, not paused.
    private static IEnumerable<TakingsMark> Marks(IReadOnlyList<StoredSpan> spans, Stretch stretch, OpenShop shop)
    {
        string Day(string instant) =>
            LocalDatePattern.Iso.Format(InstantPattern.ExtendedIso.Parse(instant).Value.InZone(shop.Store.Zone).Date);
        var inTime = spans.OrderBy(span => span.First).ToArray();
        for (var i = 0; i < inTime.Length; i++)
        {
            var follows = i > 0 && inTime[i - 1].Until == inTime[i].Since;
            var mark = new TakingsMark(Day(inTime[i].Since), follows ? "changed" : "started", inTime[i].First);
            if (IsIn(mark.Day))
                yield return mark;
            if (inTime[i].Until is { } until && (i + 1 == inTime.Length || inTime[i + 1].Since != until) && IsIn(Day(until)))
                yield return new(Day(until), "paused", inTime[i].First);
        }

        bool IsIn(string day) => string.CompareOrdinal(day, stretch.First) >= 0 && string.CompareOrdinal(day, stretch.Last) <= 0;
    }

    private static IEnumerable<TakingsTableOf> Tables(IReadOnlyList<Storage.TakingsPart> parts, OpenShop shop)
    {
        var currency = shop.Store.Currency;
        // Orders keep the words of their time; they are told by those of now.
        parts =
        [
            .. parts
                .Select(part =>
                    part.Part is "channel" or "group" ? part with { Word = shop.Setup.Renamed.Now(part.Part, part.Word) } : part
                )
                .GroupBy(part => (part.Part, part.Word))
                .Select(same => new Storage.TakingsPart(same.Key.Part, same.Key.Word, Sum(same.Select(part => part.Figures)))),
        ];
        foreach (var by in TableOf.Values.Distinct())
        {
            var sorted = parts
                .Where(part => TableOf.GetValueOrDefault(part.Part) == by)
                .OrderByDescending(part => part.Figures.Orders)
                .ThenByDescending(part => part.Figures.Takings)
                .ThenBy(part => part.Word, StringComparer.Ordinal)
                .ToArray();
            // What is the same of every order says nothing.
            if (sorted.Length == 0 || (sorted.Length == 1 && by is "channel" or "currency"))
                continue;
            yield return new(
                by,
                [.. sorted.Take(MostParts).Select(part => Part(part, shop))],
                sorted.Length > MostParts ? TakingsFigures.Of(Sum(sorted.Skip(MostParts).Select(part => part.Figures)), currency) : null
            );
        }
    }

    private static TakingsPart Part(Storage.TakingsPart part, OpenShop shop) =>
        new(
            part.Part switch
            {
                "batch" => $"batch {part.Word}",
                "place" => shop.Settings.Places.FirstOrDefault(known => known.Code == part.Word)?.Name ?? part.Word,
                "item" when shop.Catalogue.Find(part.Word) >= 0 => shop.Wording.Item(part.Word),
                _ => part.Word,
            },
            part.Part is "code" or "item" ? part.Word : null,
            TakingsFigures.Of(part.Figures, shop.Store.Currency)
        );

    private static Contribution Sum(IEnumerable<Contribution> figures) => figures.Aggregate(default(Contribution), (sum, one) => sum + one);
}
