using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;
using Microsoft.AspNetCore.Http.Features;
using NodaTime;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Archives;
using RapidLedger.Server.Demo;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Opening;

/// <summary>A shop to be opened: what everything else needs. The rest has a default and is changed later.</summary>
/// <param name="Name">Its name.</param>
/// <param name="Currency">In which it sells (ISO 4217).</param>
/// <param name="TimeZone">By which its days begin (IANA).</param>
/// <param name="Locale">In which amounts and dates are written (BCP 47).</param>
/// <param name="Country">Where it is taxed, and where the first cart is delivered (ISO 3166-1).</param>
/// <param name="CountryName">The country's name, as the merchant reads it.</param>
/// <param name="TaxMode">inclusive, exclusive or none.</param>
/// <param name="TaxPercent">The rate of the class standard there; none: no tax.</param>
internal sealed record OpenRequest(
    string Name,
    string Currency,
    string TimeZone,
    string Locale,
    string Country,
    string CountryName,
    string TaxMode,
    decimal? TaxPercent = null
);

/// <summary>Opens a shop in a file that holds none.</summary>
internal static class OpeningEndpoints
{
    /// <summary>The tax class of delivery, and of goods that come in without one.</summary>
    public const string UsualClass = "standard";

    private const int LongestName = 100;
    private const int MostTold = 50;
    private const long LargestArchive = 1L << 30;

    public static void MapOpening(this IEndpointRouteBuilder routes)
    {
        routes
            .MapPost("/api/opening", Open)
            .Produces(204)
            .Refuses(400, 409, 413, 415, 422, 503)
            .Says("open", "opening", "Open a shop in a file that holds none");
        routes
            .MapPost("/api/opening/demo", async (DemoShop demo, OpenShop shop) =>
            {
                if (!await demo.Fill())
                    return Taken();
                await shop.FollowSetup();
                return Results.NoContent();
            })
            .Produces(204)
            .Refuses(409, 503)
            .Says("openDemo", "opening", "Open the demo shop, to look around");
        routes
            .MapPost("/api/opening/leave", (DemoLeaving leaving, OpenShop shop, HttpResponse answer) =>
                shop.Settings.IsDemo
                    ? Results.Ok(leaving.Begin(answer))
                    : Answers.Refused(
                        StatusCodes.Status409Conflict,
                        [new("", ProblemCode.Conflict, "This is not the demo shop. To begin another shop, serve another file.")]
                    )
            )
            .Produces<DemoLeft>()
            .Refuses(409)
            .Says("leaveDemo", "opening", "Put the demo shop aside and begin with an empty file");
        routes
            .MapPost("/api/opening/archive", OpenArchive)
            .Accepts<string>("application/octet-stream")
            .Produces(204)
            .Refuses(400, 404, 409, 413, 415, 422, 503)
            .Says("openArchive", "opening", "Open a shop from the zip that one was saved as");
    }

    // A zip that export wrote, taken as it comes: it makes the whole shop.
    private static async Task<IResult> OpenArchive(
        bool? usesBeginAnew,
        WholeShopRepository whole,
        ShopRepository shops,
        OpenShop shop,
        PastOrderBatches past,
        IClock clock,
        HttpContext context
    )
    {
        if (shops.IsThere())
            return Taken();
        if (context.Features.Get<IHttpMaxRequestBodySizeFeature>() is { IsReadOnly: false } body)
            body.MaxRequestBodySize = LargestArchive;
        var path = Path.GetTempFileName();
        try
        {
            await using (var file = File.Create(path))
                await context.Request.Body.CopyToAsync(file, context.RequestAborted);
            if (!ArchiveFolder.IsShop(path))
                return Answers.NotFound(ProblemCode.UnknownValue, "This file holds no whole shop.");
            var (read, problems) = ArchiveFolder.Read(path);
            if (read is not { } archive)
                return Answers.Refused([
                    .. problems.Take(MostTold).Select(problem => new Problem("", ProblemCode.Failed, problem.ToString())),
                ]);
            if (usesBeginAnew != true && ShopImport.BeginningAnew(archive) is { Count: > 0 } limited)
                return Answers.Refused(
                    StatusCodes.Status409Conflict,
                    [
                        new(
                            "/usesBeginAnew",
                            ProblemCode.Missing,
                            $"These promotions are live and have limits or give credit; their uses and draws begin at none: {string.Join(", ", limited)}."
                        ),
                    ]
                );
            var (orders, bad) = await ArchivedOrders.Read(path, archive, clock.GetCurrentInstant());
            if (bad.Count > 0)
                return Answers.Refused([.. bad.Take(MostTold).Select(problem => new Problem("", ProblemCode.Failed, problem.ToString()))]);
            var outcome = await whole.Fill(ShopImport.Whole(archive, clock.GetCurrentInstant()));
            if (outcome.Taken.Count > 0)
                return Answers.Refused("", ProblemCode.Duplicate, ShopImport.Say(outcome.Taken));
            if (!outcome.IsDone)
                return Taken();
            if (orders is not null)
                await ArchivedOrders.Bring(past, ArchivePaths.Orders, orders);
        }
        catch (FormatException error)
        {
            return Answers.Refused("", ProblemCode.Failed, error.Message);
        }
        finally
        {
            File.Delete(path);
        }

        await shop.FollowSetup();
        return Results.NoContent();
    }

    private static async Task<IResult> Open(OpenRequest request, ShopRepository shops, OpenShop shop)
    {
        var problems = new List<Problem>();
        if (request.Name.Trim() is not { Length: > 0 and <= LongestName } name)
            problems.Add(new("/name", ProblemCode.Missing, $"The shop needs a name of 1 to {LongestName} characters."));
        if (Place.Find(request.Country) is null)
            problems.Add(new("/country", ProblemCode.UnknownPlace, $"'{request.Country}' is not a country of ISO 3166-1."));
        if (request.TaxMode is not ("inclusive" or "exclusive" or "none"))
            problems.Add(new("/taxMode", ProblemCode.UnknownValue, "Prices include tax, or it comes on top, or there is none."));
        else if (request.TaxMode != "none" && request.TaxPercent is not (>= 0 and <= 100))
            problems.Add(new("/taxPercent", ProblemCode.Missing, "Say how many percent of tax there are: 0 to 100."));
        if (!SettingsReader.IsLocale(request.Locale))
            problems.Add(new("/locale", ProblemCode.UnknownValue, $"'{request.Locale}' is not a language and country, such as en-GB."));
        var store = new JsonObject { ["currency"] = request.Currency, ["timeZone"] = request.TimeZone };
        if (request.TaxMode != "none")
            store["tax"] = new JsonObject
            {
                ["mode"] = request.TaxMode,
                ["shippingClass"] = UsualClass,
                ["rates"] = new JsonArray(
                    new JsonObject
                    {
                        ["class"] = UsualClass,
                        ["place"] = request.Country,
                        ["percent"] = request.TaxPercent ?? 0,
                    }
                ),
            };
        var document = store.ToJsonString();
        problems.AddRange(
            CaseReader
                .ReadStore(Encoding.UTF8.GetBytes(document))
                .Problems.Where(problem => !problem.At.StartsWith("/tax", StringComparison.Ordinal) || problems.Count == 0)
        );
        if (problems.Count > 0)
            return Answers.Refused(problems);
        var settings = new ShopSettings(
            request.Name.Trim(),
            request.Locale,
            [Cart.Web],
            [],
            [new(request.Country, request.CountryName.Trim() is { Length: > 0 } country ? country : request.Country)]
        );
        if (shops.IsThere())
            return Taken();
        try
        {
            await shops.Fill(
                document,
                JsonSerializer.Serialize(settings, JsonSerializerOptions.Web),
                """{"categories": [], "products": []}""",
                [],
                []
            );
        }
        catch (Microsoft.Data.Sqlite.SqliteException) when (shops.IsThere())
        {
            // Somebody else opened one at the same moment.
            return Taken();
        }

        await shop.FollowSetup();
        return Results.NoContent();
    }

    private static IResult Taken() =>
        Answers.Refused(
            StatusCodes.Status409Conflict,
            [new("", ProblemCode.Conflict, "There is a shop in this file already. To open another, start the program with another --data.")]
        );
}
