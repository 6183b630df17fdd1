using System.Globalization;
using System.Text;
using NodaTime;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Takings;

/// <summary>What a promotion brought.</summary>
/// <param name="Id">Its id.</param>
/// <param name="Name">What the merchant calls it.</param>
/// <param name="State">As in the list of promotions.</param>
/// <param name="Now">Its figures of the stretch.</param>
/// <param name="Before">Those of the stretch beside it; null: none is.</param>
/// <param name="Left">What is left of its limits or budget, and until when at the pace of the last seven days; null: it has none.</param>
/// <param name="WindowFrom">The first day of its window, up to today; null: it has none that has begun.</param>
/// <param name="WindowTo">The last day of it, today if it goes on.</param>
internal sealed record TakingsRowInfo(
    string Id,
    string Name,
    string State,
    TakingsFigures Now,
    TakingsFigures? Before,
    string? Left,
    string? WindowFrom,
    string? WindowTo
);

/// <summary>What all promotions brought in a stretch.</summary>
/// <param name="From">The first day.</param>
/// <param name="To">The last day.</param>
/// <param name="BeforeFrom">The first day of the stretch beside it; null: none is.</param>
/// <param name="BeforeTo">Its last day.</param>
/// <param name="Rows">Promotion by promotion, those that gave most first.</param>
/// <param name="All">All orders.</param>
/// <param name="AllBefore">All orders of the stretch beside it.</param>
/// <param name="Without">Those without any promotion.</param>
/// <param name="WithoutBefore">Those of the stretch beside it.</param>
/// <param name="Brought">How many orders from before stand in the stretch.</param>
/// <param name="IsAny">Whether anything was ever ordered or brought.</param>
internal sealed record TakingsTable(
    string From,
    string To,
    string? BeforeFrom,
    string? BeforeTo,
    IReadOnlyList<TakingsRowInfo> Rows,
    TakingsFigures All,
    TakingsFigures? AllBefore,
    TakingsFigures Without,
    TakingsFigures? WithoutBefore,
    long Brought,
    bool IsAny
);

/// <summary>Takings of the last 28 days beside each promotion.</summary>
/// <param name="Promotion">Its id.</param>
internal sealed record TakingsGlance(string Promotion, long Orders, string Given, decimal? MarginPercent);

/// <summary>Tells what promotions brought.</summary>
internal static class TakingsEndpoints
{
    private const int Week = 7;

    public static void MapTakings(this IEndpointRouteBuilder routes)
    {
        routes
            .MapGet("/api/takings", Table)
            .Produces<TakingsTable>()
            .Refuses(400, 422)
            .Says("takings", "takings", "What promotions brought in a stretch of days");
        routes
            .MapGet("/api/takings/glance", Glance)
            .Produces<TakingsGlance[]>()
            .Says("takingsGlance", "takings", "What each promotion brought in the last 28 days");
        routes
            .MapGet("/api/takings.csv", Csv)
            .Produces<string>(200, "text/csv")
            .Refuses(400, 422)
            .Says("takingsCsv", "takings", "The same as a file");
        routes
            .MapGet("/api/takings/of/{promotion}", TakingsPage.Of)
            .Produces<PromotionTakings>()
            .Refuses(400, 404, 422)
            .Says("takingsOf", "takings", "What one promotion brought, day by day and by what");
    }

    /// <summary>The store's date.</summary>
    public static LocalDate Today(OpenShop shop, IClock clock) => clock.GetCurrentInstant().InZone(shop.Store.Zone).Date;

    /// <summary>That a stretch cannot be read.</summary>
    public static IResult NoStretch() =>
        Answers.Refused(
            "/from",
            ProblemCode.WrongType,
            "Two days are expected here, the first not after the last: from=2026-12-01 and to=2026-12-28."
        );

    private static IResult Table(
        string? from,
        string? to,
        string? beside,
        bool? brought,
        OpenShop shop,
        TakingsBook book,
        PastOrderRepository past,
        OrderRepository orders,
        IClock clock
    )
    {
        var today = Today(shop, clock);
        if (Stretch.Read(from, to, today) is not { } stretch)
            return NoStretch();
        if (beside is not (null or "" or "before" or "year"))
            return Answers.Refused("/beside", ProblemCode.UnknownValue, "Known are: before, year.");
        Stretch? other = beside switch
        {
            "before" => stretch.Before,
            "year" => stretch.YearAgo,
            _ => null,
        };
        var (now, then) = (book.Of(stretch, brought == true), other is { } days ? book.Of(days, brought == true) : null);
        var pace = book.Of(new(today.PlusDays(-Week), today.PlusDays(-1)), false);
        var used = shop.UsageAt(clock.GetCurrentInstant());
        var currency = shop.Store.Currency;
        TakingsFigures Figures(IReadOnlyDictionary<string, (Contribution Taken, long Held)> rows, string name) =>
            rows.TryGetValue(name, out var row) ? TakingsFigures.Of(row.Taken, currency, row.Held) : TakingsFigures.Of(default, currency);
        return Results.Ok(
            new TakingsTable(
                stretch.First,
                stretch.Last,
                other?.First,
                other?.Last,
                [
                    .. shop
                        .Promotions.Where(promotion =>
                            promotion.Stored.State == "live"
                            || now.ContainsKey(promotion.Stored.Id)
                            || then?.ContainsKey(promotion.Stored.Id) == true
                        )
                        .OrderByDescending(promotion => now.GetValueOrDefault(promotion.Stored.Id).Taken.Given)
                        .ThenByDescending(promotion => now.GetValueOrDefault(promotion.Stored.Id).Taken.Orders)
                        .ThenBy(
                            promotion => promotion.SortKey.KeyData,
                            Comparer<byte[]>.Create((one, two) => one.AsSpan().SequenceCompareTo(two))
                        )
                        .Select(promotion => new TakingsRowInfo(
                            promotion.Stored.Id,
                            promotion.Name,
                            promotion.Stored.State,
                            Figures(now, promotion.Stored.Id),
                            then is null ? null : Figures(then, promotion.Stored.Id),
                            Left(promotion, used, pace.GetValueOrDefault(promotion.Stored.Id).Taken, shop),
                            WindowOf(promotion, today)?.First,
                            WindowOf(promotion, today)?.Last
                        )),
                ],
                Figures(now, Contribution.All),
                then is null ? null : Figures(then, Contribution.All),
                Figures(now, Contribution.Without),
                then is null ? null : Figures(then, Contribution.Without),
                book.BroughtIn(stretch),
                orders.IsAnythingCounted() || past.IsAny()
            )
        );
    }

    private static TakingsGlance[] Glance(OpenShop shop, TakingsBook book, IClock clock)
    {
        var today = Today(shop, clock);
        return
        [
            .. book.Of(new(today.PlusDays(1 - Stretch.Usual), today), false)
                .Where(row => row.Key is not (Contribution.All or Contribution.Without))
                .Select(row =>
                {
                    var figures = TakingsFigures.Of(row.Value.Taken, shop.Store.Currency);
                    return new TakingsGlance(row.Key, figures.Orders, figures.Given, figures.MarginPercent);
                }),
        ];
    }

    private static IResult Csv(
        string? from,
        string? to,
        bool? byDay,
        bool? brought,
        string? promotion,
        OpenShop shop,
        TakingsBook book,
        IClock clock
    ) =>
        Stretch.Read(from, to, Today(shop, clock)) is { } stretch
            ? Results.Text(
                TakingsCsv.Written(TakingsCsv.Rows(book, stretch, shop.Store.Currency, byDay == true, brought == true, promotion)),
                "text/csv",
                Encoding.UTF8
            )
            : NoStretch();

    // A window that has not begun has brought nothing.
    private static Stretch? WindowOf(ShelvedPromotion promotion, LocalDate today) =>
        promotion.InForce.Promotion?.Window is { Start: { } start } window && start.Date <= today
            ? new(start.Date, window.End is { } end && end.PlusTicks(-1).Date < today ? end.PlusTicks(-1).Date : today)
            : null;

    // What is left of a promotion's limits, in words.
    private static string? Left(ShelvedPromotion promotion, IReadOnlyDictionary<string, Usage> used, Contribution pace, OpenShop shop)
    {
        if (promotion.Stored.State != "live" || promotion.InForce.Promotion?.Limits is not { } limits)
            return null;
        var usage = used.GetValueOrDefault(promotion.Stored.Id, Usage.None);
        var parts = new List<string>();
        if (limits.Total - usage.Total is { } uses)
            parts.Add(uses <= 0 ? "all uses used up" : $"{Wording.Counted(uses, "use")} left{Until(uses, pace.Orders)}");
        if (limits.Budget - usage.Budget is { } money)
            parts.Add(money <= 0 ? "budget used up" : $"{shop.Wording.Say(money)} left{Until(money, pace.Given + pace.GivenDelivery)}");
        return parts.Count == 0 ? null : string.Join(", ", parts);
    }

    // At so much in seven days.
    private static string Until(long left, long inAWeek)
    {
        if (left <= 0 || inAWeek <= 0)
            return "";
        var days = left * Week / inAWeek;
        return days switch
        {
            0 => ", gone today at this pace",
            1 => ", about a day",
            < 365 => string.Create(CultureInfo.InvariantCulture, $", about {days} days"),
            _ => ", more than a year",
        };
    }
}
