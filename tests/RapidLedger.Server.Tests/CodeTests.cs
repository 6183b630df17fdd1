using System.Globalization;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using CsvHelper;
using RapidLedger.Tests;
using ZXing;
using ZXing.Common;
using ZXing.QrCode;

namespace RapidLedger.Server.Tests;

/// <summary>
/// Codes: made hard to guess, brought whole or not at all, found without hyphens, voided, exported, and drawn so that others can read them.
/// </summary>
public partial class CodeTests(Served served)
{
    // Pixels for each module of a drawing.
    private const int Scale = 6;

    [Fact]
    public async Task A_batch_is_made_found_voided_and_exported()
    {
        var server = served.Server;
        var (status, made) = await server.Send(
            HttpMethod.Post,
            "/api/batches",
            new
            {
                count = 12_000,
                length = 10,
                prefix = "km-",
                group = 5,
                lastDay = "2027-03-31",
                note = "for the test",
            }
        );
        Assert.Equal(200, status);
        var id = (string)made!["id"]!;
        JsonNode batch;
        do batch = (await server.Get("/api/batches")).AsArray().Single(entry => (string)entry!["id"]! == id)!;
        while ((long)batch["codes"]! < 12_000);
        Assert.Null(batch["fault"]);

        // Through a spreadsheet's own reader: each code once, of the form asked for, without letters that look like digits.
        var csv = await server.Http.GetStringAsync(new Uri($"/api/batches/{id}.csv", UriKind.Relative));
        using var reader = new CsvReader(new StringReader(csv), CultureInfo.InvariantCulture);
        var rows = reader.GetRecords(new { code = "", link = "" }).ToArray();
        Assert.Equal(12_000, rows.Select(row => row.code).Distinct().Count());
        Assert.All(rows, row => Assert.Matches("^km-[0-9A-HJKMNP-TV-Z]{5}-[0-9A-HJKMNP-TV-Z]{5}$", row.code));
        Assert.Equal($"{server.Address}counter?code={rows[0].code}", rows[0].link);

        // Found by how it begins, in whatever way it is typed.
        var bare = rows[0].code.Replace("-", "", StringComparison.Ordinal).ToLowerInvariant();
        var found = (await server.Get($"/api/codes?q={bare[..7]}"))["ofBatches"]!.AsArray();
        Assert.Contains(rows[0].code, found.Select(entry => (string)entry!["code"]!));
        Assert.All(found, entry =>
            Assert.StartsWith(
                bare[..7],
                ((string)entry!["code"]!).Replace("-", "", StringComparison.Ordinal),
                StringComparison.OrdinalIgnoreCase
            )
        );
        Assert.Equal(204, (await server.Send(HttpMethod.Post, $"/api/codes/void?code={bare}&isVoid=true")).Status);
        Assert.Contains("it is void", (string)(await server.Get($"/api/codes/story?code={bare}"))["story"]!);
        Assert.Equal(1, (long)(await server.Get("/api/batches")).AsArray().Single(entry => (string)entry!["id"]! == id)!["voided"]!);

        // Only one promotion has it.
        await Live(server, id, 200);
        var (refused, why) = await Live(server, id, 422);
        Assert.Equal("/trigger/batches/0", (string)why!["problems"]![0]!["at"]!);
        Assert.Equal(422, refused);
    }

    [Theory]
    [InlineData(1_000, 10, "crockford", null)]
    [InlineData(1_000, 6, "crockford", "doubt")]
    [InlineData(1_000, 6, "digits", "error")]
    public async Task How_hard_they_are_to_guess_is_told_before(long count, int length, string alphabet, string? severity)
    {
        var (_, told) = await served.Server.Send(
            HttpMethod.Post,
            "/api/batches/hardness",
            new
            {
                count,
                length,
                alphabet,
            }
        );
        Assert.Equal(severity, (string?)told!["severity"]);
        // 32^10 / 1000 is 1.1 trillion; 32^6 / 1000 is 1,073,741; 10^6 / 1000 is 1,000.
        Assert.Equal(
            length == 10 ? "one guess in 1 trillion hits"
                : alphabet == "digits" ? "one guess in 1,000 hits"
                : "one guess in 1 million hits",
            (string)told["words"]!
        );
        if (severity is null)
        {
            // Without groups they are written in one piece.
            var (_, made) = await served.Server.Send(
                HttpMethod.Post,
                "/api/batches",
                new
                {
                    count = 2,
                    length,
                    alphabet,
                }
            );
            var csv = "";
            while (csv.Count(letter => letter == '\n') < 3)
                csv = await served.Server.Http.GetStringAsync(new Uri($"/api/batches/{made!["id"]}.csv", UriKind.Relative));
            Assert.Matches("^code,link\r?\n[0-9A-Z]{10},", csv);
        }

        if (severity != "error")
            return;
        Assert.Equal(
            422,
            (
                await served.Server.Send(
                    HttpMethod.Post,
                    "/api/batches",
                    new
                    {
                        count,
                        length,
                        alphabet,
                    }
                )
            ).Status
        );
    }

    [Fact]
    public async Task What_is_brought_is_brought_whole_or_every_bad_row_is_told()
    {
        var server = served.Server;
        using var refused = await Bring("code,who\nGUT-1,anna\n,ben\nGUT 1,carl\nletter15,dora\n");
        Assert.Equal(422, (int)refused.StatusCode);
        var problems = JsonNode.Parse(await refused.Content.ReadAsStringAsync())!["problems"]!.AsArray();
        Assert.Equal(
            ["/3 empty", "/4 duplicate", "/5 duplicate"],
            problems.Select(problem => $"{(string)problem!["at"]!} {(string)problem["code"]!}")
        );
        Assert.Equal(404, (await server.Send(HttpMethod.Get, "/api/codes/story?code=gut1")).Status);
        using var header = await Bring("kode\nA\n");
        Assert.Contains("The header lacks: code.", await header.Content.ReadAsStringAsync());

        using var brought = await Bring("who,code\n\"anna, of course\",GUT-1\nben,GUT-2\n");
        Assert.Equal(200, (int)brought.StatusCode);
        Assert.Equal("who: anna, of course", (string)(await server.Get("/api/codes?q=gut1"))["ofBatches"]![0]!["note"]!);
        using var again = await Bring("code\nGUT-3\ngut2\n");
        Assert.Equal(
            "/3 duplicate",
            JsonNode.Parse(await again.Content.ReadAsStringAsync())!["problems"]!.AsArray().Single() is { } only
                ? $"{(string)only["at"]!} {(string)only["code"]!}"
                : null
        );
        Assert.Equal(404, (await server.Send(HttpMethod.Get, "/api/codes/story?code=gut3")).Status);

        Task<HttpResponseMessage> Bring(string csv) =>
            server.Http.PostAsync(new Uri("/api/batches/bring?note=brought", UriKind.Relative), new StringContent(csv, null, "text/csv"));
    }

    [Theory]
    [InlineData("LETTER15")]
    [InlineData("FIRST-ÄÖ 9&?=+")]
    public async Task A_drawn_code_is_read_by_another_program(string code)
    {
        var svg = await served.Server.Http.GetStringAsync(new Uri($"/api/codes/qr?code={Uri.EscapeDataString(code)}", UriKind.Relative));
        // ZXing, an independent reader of ISO/IEC 18004, on the rectangles as they are drawn.
        var size = int.Parse(ViewBox().Match(svg).Groups[1].Value, CultureInfo.InvariantCulture) * Scale;
        var light = new byte[size * size];
        Array.Fill(light, (byte)255);
        foreach (Match run in Run().Matches(svg))
        {
            var (x, y, width, height) = (Number(run, 1), Number(run, 2), Number(run, 3), Number(run, 4));
            for (var row = y; row < y + height; row++)
                Array.Fill(light, (byte)0, (row * size) + x, width);
        }

        var read = new QRCodeReader().decode(
            new BinaryBitmap(new HybridBinarizer(new RGBLuminanceSource(light, size, size, RGBLuminanceSource.BitmapFormat.Gray8)))
        );
        Assert.Equal($"{served.Server.Address}counter?code={Uri.EscapeDataString(code)}", read?.Text);

        static int Number(Match run, int group) => int.Parse(run.Groups[group].Value, CultureInfo.InvariantCulture) * Scale;
    }

    private static async Task<(int Status, JsonNode? Answer)> Live(RunningServer server, string batch, int expected)
    {
        var document = JsonNode.Parse(
            $$"""{"label": "Batch", "trigger": {"batches": ["{{batch}}"]}, "rewards": [{"kind": "points", "fixed": 1}]}"""
        );
        var (_, begun) = await server.Send(HttpMethod.Post, "/api/promotions", new { document });
        var answer = await server.Send(
            HttpMethod.Post,
            $"/api/promotions/{(string)begun!["id"]!}/live",
            new { revision = (long)begun["revision"]!, document = begun["document"] }
        );
        Assert.True(answer.Status == expected, answer.Body?.ToJsonString());
        return answer;
    }

    [GeneratedRegex("viewBox=\"0 0 ([0-9]+)")]
    private static partial Regex ViewBox();

    [GeneratedRegex("M([0-9]+) ([0-9]+)h([0-9]+)v([0-9]+)h-[0-9]+z")]
    private static partial Regex Run();
}
