using System.Text.Json;
using System.Text.Json.Nodes;
using RapidLedger.Formats;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Settings;

/// <summary>All settings, as they stand.</summary>
/// <param name="Number">Goes up with each change.</param>
/// <param name="Settings">What pricing does not need: name, locale, channels, places, link, effort, hold.</param>
/// <param name="Store">What pricing needs, as in a case.</param>
internal sealed record ShopDocuments(long Number, JsonElement Settings, JsonElement Store);

/// <summary>Settings to be changed: members are replaced whole, null empties one, what is left out stays.</summary>
/// <param name="Number">The number of the settings that were changed; null: whatever stands.</param>
/// <param name="Settings">Members of what pricing does not need.</param>
/// <param name="Store">Members of what pricing needs.</param>
/// <param name="Cart">The cart on the tape, for a look.</param>
internal sealed record SettingsRequest(
    long? Number = null,
    JsonElement? Settings = null,
    JsonElement? Store = null,
    JsonElement? Cart = null
);

/// <summary>What came of it.</summary>
/// <param name="Step">The step that it is, to take it back by; null: nothing differs.</param>
internal sealed record SettingsWritten(long? Step);

/// <summary>The shop's settings: read, looked at, written. They hold from the next price on.</summary>
internal static class SettingsEndpoints
{
    public static void MapSettings(this IEndpointRouteBuilder routes)
    {
        routes
            .MapGet("/api/settings", (ShopRepository repository) =>
            {
                // Asked first: what is written meanwhile makes the number an old one, not the settings.
                var number = repository.Numbers().Settings;
                return repository.Settings() is { } stands
                    ? Results.Ok(new ShopDocuments(number, Element(stands.Settings), Element(stands.Store)))
                    : NoShop();
            })
            .Produces<ShopDocuments>()
            .Refuses(409)
            .Says("settings", "shop", "All settings");
        routes
            .MapPost("/api/settings/look", (SettingsRequest request, SettingsReview review, ShopRepository repository) =>
                repository.Settings(Members(request.Settings), Members(request.Store)) is not { } then
                    ? NoShop()
                    : Results.Ok(review.Look(then.Settings, then.Store, request.Cart))
            )
            .Produces<SettingsLook>()
            .Refuses(400, 409, 413, 415, 422)
            .Says("lookAtSettings", "shop", "What changed settings would do, before they are written");
        routes
            .MapPost("/api/settings", Write)
            .Produces<SettingsWritten>()
            .Refuses(400, 409, 413, 415, 422, 503)
            .Says("writeSettings", "shop", "Change the shop's settings");
    }

    private static async Task<IResult> Write(
        SettingsRequest request,
        OpenShop shop,
        SettingsReview review,
        ShopRepository repository,
        StepRepository steps
    )
    {
        var (settings, store) = (Members(request.Settings), Members(request.Store));
        if (repository.Settings(settings, store) is not { } then)
            return NoShop();
        if (request.Number is { } number && number != repository.Numbers().Settings)
            return Answers.Refused(
                StatusCodes.Status409Conflict,
                [
                    new(
                        "",
                        ProblemCode.Conflict,
                        "The settings were changed elsewhere meanwhile. Look at them again, then put yours over them."
                    ),
                ]
            );
        var problems = review.Problems(then.Settings, then.Store).ToList();
        if (problems.Count > 0)
            return Answers.Refused(problems);
        RowChange[] changes =
        [
            .. settings is { Count: > 0 } ? new[] { new RowChange("store", "settings", settings) } : [],
            .. store is { Count: > 0 } ? new[] { new RowChange("store", "store", store) } : [],
        ];
        var what = string.Join(", ", changes.SelectMany(change => change.Members.Select(member => Words(member.Key))));
        var outcome = await steps.Write(StepSource.App, $"settings: {what}", changes, [], row => SettingsReview.Accepts(row, problems));
        await shop.FollowSetup();
        return problems.Count > 0 ? Answers.Refused(problems) : Results.Ok(new SettingsWritten(outcome.Number));
    }

    private static string Words(string member) =>
        member switch
        {
            "name" => "the shop's name",
            "locale" => "how amounts and dates are written",
            "channels" => "sales channels",
            "places" => "names of places",
            "link" => "the form of links",
            "effort" => "how long a choice may take",
            "holdMinutes" => "how long orders are held",
            "currency" => "the currency",
            "timeZone" => "the time zone",
            "rates" => "currencies and rates",
            "policy" => "how promotions are chosen",
            "shipping" => "delivery",
            "marginFloor" => "the margin floor",
            "language" => "the shoppers' language",
            _ => member,
        };

    private static JsonObject? Members(JsonElement? written) =>
        written is { ValueKind: JsonValueKind.Object } members ? JsonObject.Create(members) : null;

    private static IResult NoShop() =>
        Answers.Refused(StatusCodes.Status409Conflict, [new("", ProblemCode.Conflict, "There is no shop yet. Open one first.")]);

    private static JsonElement Element(JsonObject document) => JsonSerializer.SerializeToElement(document);
}
