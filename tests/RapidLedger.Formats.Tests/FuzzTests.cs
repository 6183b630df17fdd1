using System.Text;
using CsCheck;

namespace RapidLedger.Formats.Tests;

/// <summary>Hostile input: a list of problems or a result, never an exception, a hang, or more than a few megabytes.</summary>
public class FuzzTests
{
    private const long MostBytes = 24_000_000;

    private static readonly byte[][] Cases =
    [
        .. Directory
            .EnumerateFiles(Path.Combine(AppContext.BaseDirectory, "cases"), "*.json")
            .Order(StringComparer.Ordinal)
            .Select(File.ReadAllBytes),
    ];

    // Pieces that break readers: odd numbers, half characters, names that stand twice, values of the wrong kind.
    private static readonly string[] Pieces =
    [
        "null",
        "[]",
        "{}",
        "-1",
        "1e400",
        "0.00000000000000000000000000001",
        "99999999999999999999",
        "\"\"",
        "\"\\ud800\"",
        "\"-0.01\"",
        "\"1e9\"",
        "true",
        "\"9999999999999.99\"",
        "{\"all\":true,\"all\":true}",
        "{\"\\udc00\":1}",
        "[[[[[[[[]]]]]]]]",
        "\"2027-02-30T00:00\"",
        "\"FREQ=SECONDLY\"",
        "\"P1M\"",
        "\"\u0000\"",
        "\"Ａ\"",
    ];

    [Fact]
    public void A_case_with_a_value_replaced_is_read_or_refused() =>
        Gen.Select(Gen.Int[0, Cases.Length - 1], Gen.Int[0, 100_000], Gen.Int[0, Pieces.Length - 1])
            .Sample((number, place, piece) => Answers(Replaced(Encoding.UTF8.GetString(Cases[number]), place, Pieces[piece])), iter: 4_000);

    [Fact]
    public void A_case_with_bytes_changed_is_read_or_refused() =>
        Gen.Select(Gen.Int[0, Cases.Length - 1], Gen.Select(Gen.Int[0, 100_000], Gen.Byte).Array[1, 4])
            .Sample(
                (number, changes) =>
                {
                    var changed = (byte[])Cases[number].Clone();
                    foreach (var (place, value) in changes)
                        changed[place % changed.Length] = value;
                    Answers(changed);
                },
                iter: 4_000
            );

    [Theory]
    [InlineData("nothing")]
    [InlineData("deep lists")]
    [InlineData("deep conditions")]
    [InlineData("megabytes of codes")]
    [InlineData("a megabyte of one name")]
    [InlineData("a long number")]
    [InlineData("great quantities")]
    public void Hostile_documents_are_answered_within_bounds(string kind) =>
        Answers(
            Encoding.UTF8.GetBytes(
                kind switch
                {
                    "nothing" => "",
                    "deep lists" => new string('[', 100_000),
                    "deep conditions" => Whole(
                        string.Concat(Enumerable.Repeat("{\"all\":[", 5_000)) + string.Concat(Enumerable.Repeat("]}", 5_000))
                    ),
                    "megabytes of codes" => Whole(
                        "{\"all\":[]}",
                        codes: string.Join(',', Enumerable.Range(0, 150_000).Select(number => $"\"CODE{number}\""))
                    ),
                    "a megabyte of one name" => "{\"" + new string('x', 1_000_000) + "\": 1}",
                    "a long number" => Whole("{\"quantity\":{\"op\":\"=\",\"n\":" + new string('9', 200_000) + "}}"),
                    _ => Whole("{\"all\":[]}", quantity: "1000000"),
                }
            )
        );

    [Fact]
    public void Files_of_a_shop_are_read_or_refused() =>
        Gen.Select(Gen.String[Gen.Char["\",\n\r|=;\\{}[]:ab1.-\uFEFF"], 0, 200], Gen.Int[0, 6], Gen.Bool)
            .Sample(
                (text, where, withHeader) =>
                {
                    string[] names =
                    [
                        "store.json",
                        "items.csv",
                        "categories.csv",
                        "shoppers.csv",
                        "promotions/a.json",
                        "batches/b.csv",
                        "carts/c.case.json",
                    ];
                    string[] heads =
                    [
                        "",
                        "product,name,tags,sku,options,regular,stock,gone\n",
                        "id,name,parent\n",
                        "id,groups,spent\n",
                        "",
                        "code,used\n",
                        "",
                    ];
                    var files = new Dictionary<string, string>(StringComparer.Ordinal)
                    {
                        ["store.json"] = """{"store": {"currency": "EUR"}, "settings": {"name": "S", "locale": "en-GB"}}""",
                        ["batches/b.json"] = """{"id": "b", "note": ""}""",
                    };
                    files[names[where]] = (withHeader ? heads[where] : "") + text;
                    var (shop, problems) = ArchiveReader.Read(
                        files.ToDictionary(
                            file => file.Key,
                            file => (Func<Stream>)(() => new MemoryStream(Encoding.UTF8.GetBytes(file.Value))),
                            StringComparer.Ordinal
                        )
                    );
                    // What is broken is said to be, with its file; what is not can be written again.
                    Assert.Equal(shop is null, problems.Count > 0);
                    Assert.All(problems, problem => Assert.Contains(problem.File, files.Keys));
                    foreach (var file in shop is null ? [] : ArchiveWriter.Files(shop, Pricing.Currency.Find("EUR")!))
                        file.Write(Stream.Null);
                },
                iter: 4_000
            );

    private static void Answers(byte[] json)
    {
        var before = GC.GetAllocatedBytesForCurrentThread();
        var result = ResultWriter.Write(CaseReader.Read(json));
        Assert.True(result.Length > 0);
        // No amount that is below zero but a margin: nothing ran over.
        if (Encoding.UTF8.GetString(result) is var text && text.Contains("\"totals\"", StringComparison.Ordinal))
            Assert.DoesNotContain("\"net\":\"-", text);
        // Beside what the document itself takes.
        Assert.InRange(GC.GetAllocatedBytesForCurrentThread() - before, 0, MostBytes + (40L * json.Length));
    }

    // Puts a piece in place of the value after the n-th colon.
    private static byte[] Replaced(string json, int place, string piece)
    {
        int[] colons = [.. Enumerable.Range(0, json.Length).Where(at => json[at] == ':' && at + 1 < json.Length && json[at + 1] == ' ')];
        var start = colons[place % colons.Length] + 1;
        var end = start;
        for (var depth = 0; end < json.Length && (depth > 0 || json[end] is not (',' or '}' or ']' or '\n')); end++)
            depth +=
                json[end] is '{' or '[' ? 1
                : json[end] is '}' or ']' ? -1
                : 0;
        return Encoding.UTF8.GetBytes(string.Concat(json.AsSpan(0, start), piece, json.AsSpan(end)));
    }

    private static string Whole(string when, string codes = "\"A\"", string quantity = "1") =>
        "{\"store\":{\"currency\":\"EUR\"},\"catalogue\":{\"products\":[{\"id\":\"p\",\"name\":\"P\",\"variants\":[{\"sku\":\"S\",\"regular\":\"9999999999.99\"}]}]},"
        + "\"promotions\":[{\"id\":\"a\",\"trigger\":{\"codes\":["
        + codes
        + "]},\"when\":"
        + when
        + ",\"rewards\":[{\"kind\":\"discount\",\"on\":{\"in\":[{\"all\":true}]},\"take\":{\"percent\":99.9999},\"per\":\"cart\"}]}],"
        + "\"cart\":{\"at\":\"2027-03-05T10:00:00Z\",\"codes\":["
        + codes
        + "],\"lines\":[{\"sku\":\"S\",\"quantity\":"
        + quantity
        + "}]}}";
}
