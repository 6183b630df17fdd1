using System.Text;
using Microsoft.AspNetCore.Http.Features;
using RapidLedger.Formats;
using RapidLedger.Server.Web;

namespace RapidLedger.Server.Goods.Importing;

/// <summary>What is to be written of an import.</summary>
/// <param name="TakeOut">Whether items that are not in the file are taken out.</param>
/// <param name="Confirmed">The number of items that are taken out, typed by whoever does it, where they are more than a tenth.</param>
internal sealed record WriteImportRequest(bool TakeOut = false, int? Confirmed = null);

/// <summary>Files of goods and shoppers that come in: looked at, then written.</summary>
internal static class ImportEndpoints
{
    private const long LargestFile = 256L * 1024 * 1024;

    public static void MapImports(this IEndpointRouteBuilder routes)
    {
        routes
            .MapGet("/api/imports", (ImportDesk imports) => imports.Current is { } current ? Results.Ok(current) : Results.NoContent())
            .Produces<ImportState>()
            .Produces(204)
            .Says("import", "goods", "The import that goes on, or was the last");
        routes
            .MapPost("/api/imports", Bring)
            .Accepts<string>("application/octet-stream")
            .Produces<ImportState>()
            .Refuses(400, 409, 413, 415, 422, 503)
            .Says("bringFile", "goods", "Bring a file of goods, shoppers or past orders, and look at it");
        routes
            .MapPost("/api/imports/{id}/look", async (string id, FileReading reading, ImportDesk imports, HttpContext context) =>
            {
                try
                {
                    return await imports.Look(id, reading, context.RequestAborted) is { } state ? Results.Ok(state) : None();
                }
                catch (FormatException error)
                {
                    return Answers.Refused("", ProblemCode.Failed, error.Message);
                }
            })
            .Produces<ImportState>()
            .Refuses(400, 404, 413, 415, 422, 503)
            .Says("lookAtImport", "goods", "Look at a file again, with other columns");
        routes
            .MapPost("/api/imports/{id}/write", Write)
            .Produces<ImportState>(202)
            .Refuses(400, 404, 413, 415, 422, 503)
            .Says("writeImport", "goods", "Write what was looked at");
        routes
            .MapDelete("/api/imports/{id}", async (string id, ImportDesk imports) =>
            {
                await imports.Stop(id);
                return Results.NoContent();
            })
            .Produces(204)
            .Says("stopImport", "goods", "Stop an import, or let it go");
        routes
            .MapGet("/api/imports/{id}/bad.csv", (string id, ImportDesk imports) =>
                imports.Current is { Look: { } look } current && current.Id == id
                    ? Results.Text(BadRows(look), "text/csv", Encoding.UTF8)
                    : None()
            )
            .Produces<string>(200, "text/csv")
            .Refuses(404)
            .Says("badRows", "goods", "What is wrong with a file, as a file");
    }

    private static async Task<IResult> Bring(string? name, string? what, ImportDesk imports, HttpContext context)
    {
        if (what is not (null or "goods" or "shoppers" or "orders"))
            return Answers.Refused("/what", ProblemCode.UnknownValue, "A file holds goods, shoppers or orders.");
        if (imports.Current is { State: "looked" or "writing" } other)
            return Waits(other);
        if (context.Features.Get<IHttpMaxRequestBodySizeFeature>() is { IsReadOnly: false } body)
            body.MaxRequestBodySize = LargestFile;
        var path = Path.GetTempFileName();
        var isTakenIn = false;
        try
        {
            await using (var file = File.Create(path))
                await context.Request.Body.CopyToAsync(file, context.RequestAborted);
            var known = string.IsNullOrWhiteSpace(name) ? "file" : name[..Math.Min(name.Length, 100)];
            var state = await imports.Bring(path, known, what, context.RequestAborted);
            isTakenIn = state is not null;
            return state is null ? Waits(imports.Current!) : Results.Ok(state);
        }
        catch (FormatException error)
        {
            return Answers.Refused("", ProblemCode.Failed, error.Message);
        }
        finally
        {
            if (!isTakenIn)
                File.Delete(path);
        }
    }

    private static async Task<IResult> Write(string id, WriteImportRequest request, ImportDesk imports, Shop.OpenShop shop)
    {
        if (imports.Current is not { State: "looked" } current || current.Id != id)
            return None();
        if (current.Open.Count > 0)
            return Answers.Refused("", ProblemCode.Missing, current.Open[0]);
        if (current.Look is { BadCount: > 0 } look)
            return Answers.Refused(
                "",
                ProblemCode.Failed,
                $"{look.BadCount} things in the file are wrong. Mend them and bring it again: nothing is written until then."
            );
        var missing = current.Look!.Missing;
        if (request.TakeOut && missing * 10 > shop.Catalogue.Count && request.Confirmed != missing)
            return Answers.Refused(
                "/confirmed",
                ProblemCode.Missing,
                $"{missing} items would be taken out. Type that number to have it so."
            );
        return await imports.Write(id, request.TakeOut) ? Results.Accepted(value: imports.Current) : None();
    }

    private static IResult Waits(ImportState other) =>
        Answers.Refused(
            StatusCodes.Status409Conflict,
            [new("", ProblemCode.Busy, $"{other.Name} is being brought in. Write it or let it go first.")]
        );

    private static IResult None() => Answers.NotFound(ProblemCode.UnknownName, "There is no such import any more. Bring the file again.");

    private static string BadRows(ImportLook look) =>
        string.Concat(
            look.Bad.Select(bad => $"{bad.Line},{Quoted(bad.Member)},{Quoted(bad.Message)}\n").Prepend("row,column,what is wrong\n")
        );

    private static string Quoted(string text) => $"\"{text.Replace("\"", "\"\"", StringComparison.Ordinal)}\"";
}
