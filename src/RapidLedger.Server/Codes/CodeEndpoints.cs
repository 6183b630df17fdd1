using System.Text;
using Microsoft.AspNetCore.Mvc;
using NodaTime;
using NodaTime.Text;
using QRCoder;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Codes;

/// <summary>Codes and batches of codes.</summary>
internal static class CodeEndpoints
{
    private const int MostBrought = 200_000;
    private const int MostListed = 200;
    private const int MostNote = 200;

    public static void MapCodes(this IEndpointRouteBuilder routes)
    {
        routes.MapGet("/api/codes", List).Produces<FoundCodes>().Refuses(400, 422).Says("codes", "codes", "Codes by how they begin");
        routes
            .MapGet("/api/codes/story", (string code, CodeStories stories) =>
                stories.Of(code) is { } story
                    ? Results.Ok(story)
                    : Answers.NotFound(ProblemCode.UnknownName, $"There is no code {Trigger.Normal(code)}.")
            )
            .Produces<CodeStory>()
            .Refuses(400, 404, 422)
            .Says("codeStory", "codes", "What is known of a code");
        routes
            .MapGet("/api/codes/qr", (string code, OpenShop shop, HttpContext context) =>
                code.Length > 200
                    ? Answers.Refused("/code", ProblemCode.OutOfRange, "A code is not so long.")
                    : Results.Text(QrOf(From(context, shop.LinkTo(code))), "image/svg+xml")
            )
            .Produces<string>(200, "image/svg+xml")
            .Refuses(400, 422)
            .Says("codeQr", "codes", "A code's link as a QR code");
        routes
            .MapPost("/api/codes/void", (string code, bool isVoid, CodeRepository codes) =>
                Marked(codes.SetVoid(Trigger.Bare(Trigger.Normal(code)), isVoid), $"There is no code {code} in a batch.")
            )
            .Produces(204)
            .Refuses(400, 404, 422, 503)
            .Says("voidCode", "codes", "Make a code void, or valid again");
        routes
            .MapPost("/api/codes/void/many", async (VoidRequest request, CodeRepository codes) => Answers.EmptyPlace(
                    request.Codes,
                    "/codes"
                )
                    is { } empty
                    ? empty
                : request.Codes is not { Length: > 0 and <= MostListed }
                    ? Answers.Refused("/codes", ProblemCode.OutOfRange, $"1 to {MostListed} codes are marked at once.")
                : Results.Ok(
                    await codes.SetVoid(
                        [.. request.Codes.Select(code => Trigger.Bare(Trigger.Normal(code))).Distinct(StringComparer.Ordinal)],
                        request.Void
                    )
                ))
            .Produces<int>()
            .Refuses(400, 413, 415, 422, 503)
            .Says("voidCodes", "codes", "Make several codes void, or valid again");
        routes
            .MapGet("/api/batches", (CodeRepository codes, CodeMaking making, OpenShop shop) =>
                codes.Batches().Select(batch => Row(batch, making, shop)).ToArray()
            )
            .Produces<BatchRow[]>()
            .Says("batches", "batches", "The batches of codes");
        routes
            .MapPost("/api/batches", Make)
            .Produces<BatchRow>()
            .Refuses(400, 413, 415, 422, 503)
            .Says("makeBatch", "batches", "Make a batch of codes");
        routes
            .MapPost("/api/batches/hardness", (MakeRequest request) =>
                Form(request) is var (form, problems) && form is null
                    ? Answers.Refused(problems)
                    : Results.Ok(
                        new HardnessAnswer(
                            form!.Hardness(request.Count).Words,
                            form.Hardness(request.Count).Severity?.ToString().ToLowerInvariant(),
                            form.Draw(System.Security.Cryptography.RandomNumberGenerator.GetInt32)
                        )
                    )
            )
            .Produces<HardnessAnswer>()
            .Refuses(400, 413, 415, 422)
            .Says("hardness", "batches", "How hard such codes would be to guess");
        routes
            .MapPost("/api/batches/bring", Bring)
            .Accepts<string>("text/csv")
            .Produces<BatchRow>()
            .Refuses(400, 409, 413, 422, 503)
            .Says("bringBatch", "batches", "Bring a batch of codes from a file");
        routes
            .MapPost("/api/batches/{id}/void", (string id, bool isVoid, CodeRepository codes) =>
                Marked(codes.SetBatchVoid(id, isVoid), $"There is no batch {id}.")
            )
            .Produces(204)
            .Refuses(400, 404, 422, 503)
            .Says("voidBatch", "batches", "Make a whole batch void, or valid again");
        routes
            .MapPost("/api/batches/{id}/stop", async (string id, StopRequest request, CodeRepository codes, CodeMaking making) =>
            {
                making.Stop(id);
                if (request.Keep)
                    return Results.NoContent();
                return await codes.Drop(id)
                    ? Results.NoContent()
                    : Answers.Refused(
                        StatusCodes.Status409Conflict,
                        [new("", ProblemCode.InUse, $"Codes of {id} were used by orders. Make it void in the place of that.")]
                    );
            })
            .Produces(204)
            .Refuses(400, 409, 413, 415, 422, 503)
            .Says("stopBatch", "batches", "Stop making a batch");
        routes
            .MapGet("/api/batches/{id}.csv", (string id, CodeRepository codes, OpenShop shop, HttpContext context) =>
                codes.FindBatch(id) is null
                    ? Answers.NotFound(ProblemCode.UnknownBatch, $"There is no batch {id}.")
                    : Results.Stream(
                        output => Csv(output, codes.CodesOf(id), code => From(context, shop.LinkTo(code))),
                        "text/csv; charset=utf-8",
                        $"{id}.csv"
                    )
            )
            .Produces<string>(200, "text/csv")
            .Refuses(404)
            .Says("exportBatch", "batches", "A batch as a file");
    }

    private static IResult List(string? q, string? batch, string? after, int? take, CodeRepository codes, OpenShop shop, IClock clock)
    {
        var bare = Trigger.Bare(Trigger.Normal(q ?? ""));
        var most = Math.Clamp(take ?? MostListed, 1, MostListed);
        var found = codes.Beginning(bare, batch, after ?? "", most);
        // Without a question the batches are folded; their codes come when one is asked for.
        var shown = bare.Length == 0 && batch is null ? [] : found;
        var uses = shop.UsageAt(clock.GetCurrentInstant());
        var own =
            batch is not null || after is not null
                ? []
                : shop
                    .Promotions.SelectMany(promotion =>
                        (promotion.Read.Promotion?.Trigger?.Codes ?? []).Select(code => new OwnCode(
                            Trigger.Normal(code),
                            promotion.Stored.Id,
                            promotion.Name,
                            promotion.Stored.State,
                            uses.GetValueOrDefault(promotion.Stored.Id)?.Total ?? 0,
                            promotion.Read.Promotion!.Limits?.Total,
                            shop.LinkTo(code)
                        ))
                    )
                    .Where(code => Trigger.Bare(code.Code).StartsWith(bare, StringComparison.Ordinal))
                    .OrderBy(code => code.State == "live" ? 0 : 1)
                    .ThenBy(code => code.Code, StringComparer.Ordinal)
                    .Take(most)
                    .ToArray();
        return Results.Ok(
            new FoundCodes(
                own,
                [
                    .. shown.Select(code => new BatchCodeRow(
                        code.Written,
                        code.BatchId,
                        code.Void,
                        code.Used,
                        code.Drawn == 0 ? null : shop.Store.Currency.Write(code.Drawn),
                        MomentOf(code.LastUsedAt),
                        code.Note
                    )),
                ],
                shown.Count == most ? shown[^1].Bare : null
            )
        );
    }

    private static async Task<IResult> Make(MakeRequest request, CodeMaking making, OpenShop shop)
    {
        var (form, problems) = Form(request);
        if (form is null)
            return Answers.Refused(problems);
        var hardness = form.Hardness(request.Count);
        if (hardness.Severity == Severity.Error && request.Meant != true)
            return Answers.Refused(
                "/meant",
                ProblemCode.NotMeant,
                $"That is too easy: {hardness.Words}. Make them longer, or say that it is meant."
            );
        var batch = await making.Begin(
            form,
            request.Count,
            request.Note ?? $"made, {request.Count} codes",
            request.UsesEach switch
            {
                null => 1,
                0 => null,
                var each => each,
            },
            request.LastDay
        );
        return Results.Ok(Row(batch, making, shop));
    }

    private static (CodeForm? Form, IReadOnlyList<Problem> Problems) Form(MakeRequest request)
    {
        var problems = new List<Problem>();
        var alphabet = request.Alphabet switch
        {
            "crockford" => CodeForm.Crockford,
            "letters" => CodeForm.Letters,
            "digits" => CodeForm.Digits,
            _ => null,
        };
        if (alphabet is null)
            problems.Add(new("/alphabet", ProblemCode.UnknownValue, "An alphabet is crockford, letters or digits."));
        var form = new CodeForm(alphabet ?? CodeForm.Crockford, request.Length, request.Prefix ?? "", request.Group ?? 0);
        problems.AddRange(
            form.Faults(request.Count).Select(fault => new Problem($"/{fault.Member}", ProblemCode.OutOfRange, fault.Sentence))
        );
        problems.AddRange(Faults(request.UsesEach, request.LastDay, request.Note));
        return problems.Count > 0 ? (null, problems) : (form, problems);
    }

    private static IEnumerable<Problem> Faults(long? usesEach, string? lastDay, string? note)
    {
        if (usesEach < 0)
            yield return new("/usesEach", ProblemCode.OutOfRange, "Each code is good for one order or more; 0 stands for any number.");
        if (lastDay is not null && !LocalDatePattern.Iso.Parse(lastDay).Success)
            yield return new("/lastDay", ProblemCode.NotALocalTime, $"'{lastDay}' is not a day. Write it such as 2027-03-31.");
        if (note?.Length > MostNote)
            yield return new("/note", ProblemCode.OutOfRange, $"A note holds at most {MostNote} characters.");
    }

    // A file with a column "code"; the others are kept as notes. Every bad row is told by its number, and nothing is brought by half.
    private static async Task<IResult> Bring(
        HttpContext context,
        [FromQuery] string? note,
        [FromQuery] long? usesEach,
        [FromQuery] string? lastDay,
        CodeRepository codes,
        CodeMaking making,
        OpenShop shop
    )
    {
        var problems = Faults(usesEach, lastDay, note).ToList();
        using var body = new MemoryStream();
        await context.Request.Body.CopyToAsync(body, context.RequestAborted);
        var rows = new List<(string Bare, string Written, string? Note, int Line)>();
        var (edition, own) = (shop.Live.Number, shop.OwnCodes());
        try
        {
            using var text = new StringReader(Encoding.UTF8.GetString(ByteOrderMark.Utf8(body.ToArray()).Span));
            var seen = new Dictionary<string, int>(StringComparer.Ordinal);
            foreach (var (line, code, noted) in CodeCsv.Read(text))
            {
                if (rows.Count == MostBrought)
                {
                    problems.Add(
                        new(
                            $"/{line}",
                            ProblemCode.OutOfRange,
                            $"At most {MostBrought} codes are brought at once. Bring the rest in another file."
                        )
                    );
                    break;
                }

                var bare = Trigger.Bare(Trigger.Normal(code));
                if (CodeText.FaultOf(bare) is var (kind, message))
                    problems.Add(new($"/{line}", kind, $"Row {line}: {message}"));
                else if (own.Contains(bare))
                    problems.Add(new($"/{line}", ProblemCode.Duplicate, $"Row {line}: {code} is a promotion's own code."));
                else if (!seen.TryAdd(bare, line))
                    problems.Add(
                        new(
                            $"/{line}",
                            ProblemCode.Duplicate,
                            $"Row {line}: {code} stands in row {seen[bare]} already; codes of batches compare without hyphens and spaces."
                        )
                    );
                else
                    rows.Add((bare, code, noted, line));
            }
        }
        catch (FormatException error)
        {
            problems.Add(new("", ProblemCode.Missing, error.Message));
        }

        if (problems.Count == 0 && rows.Count == 0)
            problems.Add(new("", ProblemCode.Empty, "The file holds no codes."));
        if (problems.Count > 0)
            return Answers.Refused([.. problems.Take(MostListed)]);
        var (batch, taken) = await codes.Bring(
            note ?? "brought",
            usesEach switch
            {
                null => 1,
                0 => null,
                var each => each,
            },
            lastDay,
            [.. rows.Select(row => (row.Bare, row.Written, row.Note))],
            edition
        );
        if (batch is null && taken.Count == 0)
            return Answers.Refused(
                StatusCodes.Status409Conflict,
                [new("", ProblemCode.Conflict, "Something was put live while the file was read. Nothing was brought; bring it again.")]
            );
        return batch is null
            ? Answers.Refused([
                .. taken
                    .Take(MostListed)
                    .Select(place => new Problem(
                        $"/{rows[place].Line}",
                        ProblemCode.Duplicate,
                        $"Row {rows[place].Line}: {rows[place].Written} is in a batch already."
                    )),
            ])
            : Results.Ok(Row(batch, making, shop));
    }

    private static BatchRow Row(StoredBatch batch, CodeMaking making, OpenShop shop)
    {
        var under = making.Find(batch.Id);
        var of = shop.Promotions.FirstOrDefault(promotion => promotion.Read.Promotion?.Trigger?.Batches.Contains(batch.Id) == true);
        return new(
            batch.Id,
            batch.Note,
            batch.MadeAt,
            of?.Stored.Id,
            of?.Name,
            batch.UsesEach,
            batch.LastDay,
            batch.Void,
            batch.Codes,
            batch.Used,
            batch.Voided,
            under?.Wanted,
            under?.Fault
        );
    }

    private static async Task<IResult> Marked(Task<bool> done, string otherwise) =>
        await done ? Results.NoContent() : Answers.NotFound(ProblemCode.UnknownName, otherwise);

    private static async Task Csv(Stream output, IEnumerable<StoredCode> codes, Func<string, string> link)
    {
        await using var writer = new StreamWriter(output, new UTF8Encoding(false), leaveOpen: true);
        await CodeCsv.Write(writer, codes.Select(code => (code.Written, link(code.Written))));
    }

    // A link into the program's own counter leads to where it was asked for.
    private static string From(HttpContext context, string link) =>
        link.StartsWith('/') ? $"{context.Request.Scheme}://{context.Request.Host}{link}" : link;

    // QR Code (ISO/IEC 18004), as vector graphics.
    private static string QrOf(string text)
    {
        using var data = QRCodeGenerator.GenerateQrCode(text, QRCodeGenerator.ECCLevel.M);
        return new SvgQRCode(data).GetGraphic(4);
    }

    private static string? MomentOf(long? second) => second is { } known ? Instant.FromUnixTimeSeconds(known).ToString() : null;
}
