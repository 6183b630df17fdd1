using System.Globalization;
using System.Text;
using System.Text.Json.Nodes;
using RapidLedger.Formats;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Shop;

/// <summary>Settings to be changed: what is left out stays.</summary>
/// <param name="Name">The shop's name.</param>
/// <param name="Link">The form of links that carry a code, https://…{code}; empty: the counter's own.</param>
/// <param name="MarginFloor">The share of net that is to be kept as margin, in percent; empty: none.</param>
internal sealed record SettingsRequest(string? Name = null, string? Link = null, string? MarginFloor = null);

/// <summary>What came of it.</summary>
/// <param name="Step">The step that it is, to take it back by; null: nothing differs.</param>
internal sealed record SettingsWritten(long? Step);

/// <summary>The shop's settings, changed by sentences. They hold from the next price on.</summary>
internal static class SettingsEndpoints
{
    /// <summary>What stands for the code in a link.</summary>
    public const string Code = "{code}";

    private const int LongestName = 100;
    private const int LongestLink = 500;

    public static void MapSettings(this IEndpointRouteBuilder routes)
    {
        routes
            .MapPost("/api/settings", Write)
            .Produces<SettingsWritten>()
            .Refuses(400, 409, 413, 415, 422, 503)
            .Says("writeSettings", "shop", "Change the shop's settings");
    }

    private static async Task<IResult> Write(SettingsRequest request, OpenShop shop, StepRepository steps)
    {
        if (!shop.Setup.IsThere)
            return Answers.Refused(StatusCodes.Status409Conflict, [new("", ProblemCode.Conflict, "There is no shop yet. Open one first.")]);
        var (problems, settings, store, what) = (new List<Problem>(), new JsonObject(), new JsonObject(), new List<string>());
        if (request.Name is { } name)
        {
            if (name.Trim().Length is 0 or > LongestName)
                problems.Add(new("/name", ProblemCode.Missing, $"The shop needs a name of 1 to {LongestName} characters."));
            settings["name"] = name.Trim();
            what.Add($"the shop is called {name.Trim()}");
        }

        if (request.Link is { } link)
        {
            if (FaultOf(link.Trim()) is { } fault)
                problems.Add(new("/link", ProblemCode.WrongType, fault));
            settings["link"] = link.Trim().Length == 0 ? null : link.Trim();
            what.Add(link.Trim().Length == 0 ? "links lead to the counter" : $"links are {link.Trim()}");
        }

        if (request.MarginFloor is { } floor)
        {
            var isNumber = decimal.TryParse(floor, NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out var percent);
            if (floor.Trim().Length > 0 && !(isNumber && percent <= 100))
                problems.Add(new("/marginFloor", ProblemCode.OutOfRange, "The margin floor is 0 to 100 percent, or nothing."));
            store["marginFloor"] = floor.Trim().Length == 0 ? null : percent;
            what.Add(floor.Trim().Length == 0 ? "no margin floor" : $"the margin floor is {floor.Trim()} %");
        }

        if (problems.Count > 0)
            return Answers.Refused(problems);
        RowChange[] changes =
        [
            .. settings.Count == 0 ? [] : new[] { new RowChange("store", "settings", settings) },
            .. store.Count == 0 ? [] : new[] { new RowChange("store", "store", store) },
        ];
        var outcome = await steps.Write(StepSource.App, string.Join(", ", what), changes, [], row => Accepts(row, problems));
        await shop.FollowSetup();
        return problems.Count > 0 ? Answers.Refused(problems) : Results.Ok(new SettingsWritten(outcome.Number));
    }

    /// <summary>Whether settings can be read as they will be.</summary>
    public static bool Accepts(ChangedRow row, List<Problem> problems)
    {
        if (row.Change is { Kind: "store", Id: "store" })
            problems.AddRange(CaseReader.ReadStore(Encoding.UTF8.GetBytes(row.After.ToJsonString())).Problems);
        return problems.Count == 0;
    }

    // What is wrong with the form of a link; null: nothing.
    private static string? FaultOf(string link)
    {
        if (link.Length == 0)
            return null;
        if (link.Length > LongestLink || !link.Contains(Code, StringComparison.Ordinal))
            return $"A link carries {Code} where the code is to stand, such as https://shop.example/?code={Code}.";
        return
            Uri.TryCreate(link.Replace(Code, "CODE", StringComparison.Ordinal), UriKind.Absolute, out var address)
            && address.Scheme is "https" or "http"
            ? null
            : "A link begins with https:// and the shop's address.";
    }
}
