using System.Text.Json.Nodes;
using RapidLedger.Tests;

namespace RapidLedger.Server.Tests;

/// <summary>Orders from before that come in as a file: they are found and read, and use nothing up.</summary>
public sealed class PastOrderTests
{
    // Rows of an order stand apart; commas before decimals; days before months, which one row alone tells.
    private const string List = """
        Bestellnummer;Datum;Artikelnummer;Menge;Zeilensumme;Versand;Kundennummer;Gutschein;Land;Kanal;Währung
        00017;3.12.2025 17:30;A;2;"1.904";490;s1;spring-1;DE;web;
        00018;03/12/2025;B;1;10,70;;;;;;GBP
        00017;3.12.2025 17:30;GONE-9;1;1.000;490;;;;;
        00019;2025-12-31T23:30:00Z;C;3;;;nobody-known;;DE;;
        """;

    [Fact]
    public async Task They_are_looked_at_brought_found_and_taken_back_and_use_nothing_up()
    {
        await using var server = await OwnShop.Of("CLP").Serve();
        var before = (await server.Get("/api/shoppers/s1")).ToJsonString();
        var (_, state) = await ImportTests.Bring(server, List);
        Assert.Equal("orders", (string)state!["what"]!);
        // 1.904 are pesos by the thousand, 10,70 pounds: the column reads one way only. 03/12 reads as the others do, or as 12 March.
        Assert.Equal(["'03/12/2025' under Datum reads either way. Say how it is meant."], Texts(state["open"]!));
        Assert.Equal(["2025-12-03", "2025-03-12"], Texts(state["columns"]![1]!["readings"]!, "reads"));
        var marks = state["columns"]!.AsArray().Select(column => (string)column!["field"]! == "at" ? "day" : "").ToArray();
        (_, state) = await server.Send(HttpMethod.Post, $"/api/imports/{state["id"]}/look", new { marks });
        var look = state!["look"]!;
        Assert.Equal((3, 0, 0), ((int)look["new"]!, (int)look["same"]!, (int)look["badCount"]!));
        Assert.Equal(1, (int)look["orders"]!["assumed"]!);
        Assert.Equal(["GONE-9"], Texts(look["orders"]!["unknown"]!));
        await server.Send(HttpMethod.Post, $"/api/imports/{state["id"]}/write", new { });
        Assert.Equal("done", (string)(await ImportTests.Done(server))["state"]!);

        // The last first, by the shop's days: half past eleven of Greenwich is still that evening in Santiago. 10.70 pounds by the rate,
        // half up.
        Assert.Equal(
            ["00019 2025-12-31T23:30:00Z nobody-known 2103", "00018 2025-12-03T03:00:00Z  12892", "00017 2025-12-03T20:30:00Z Ada 3394"],
            (await Listed(server, "")).Order().Reverse()
        );
        var all = (await server.Get("/api/past-orders"))["orders"]!.AsArray();
        var first = all.Single(order => (string)order!["number"]! == "00017")!;
        var page = await server.Get($"/api/past-orders/{first["id"]}");
        Assert.Equal(
            ["2 Item A 1904", "1 GONE-9 1000"],
            page["lines"]!.AsArray().Select(line => $"{line!["quantity"]} {line["name"]} {line["paid"]}")
        );
        Assert.Equal(
            ("490", "DE", "web", "SPRING-1"),
            ((string)page["delivery"]!, (string)page["place"]!, (string)page["channel"]!, (string)page["codes"]![0]!)
        );
        foreach (
            var (asked, found) in new[]
            {
                ("0001", 3),
                ("Ada", 1),
                ("spring-1", 1),
                ("gone-9", 0),
                ("GONE-9", 1),
                ("2025-12-03", 2),
                ("3394", 1),
                ("x", 0),
            }
        )
            Assert.Equal((asked, found), (asked, (await Listed(server, asked)).Count));

        // Nothing counts of it: no order of the shop, no use, nothing a shopper has done.
        Assert.Empty((await server.Get("/api/orders"))["orders"]!.AsArray());
        Assert.Equal(before, (await server.Get("/api/shoppers/s1")).ToJsonString());
        Assert.Equal(0, RunningServer.Run("", "check-store", server.Data).Exit);

        // Who is forgotten is forgotten there too.
        Assert.Equal(200, (await server.Send(HttpMethod.Post, "/api/shoppers/nobody-known/forget", new { })).Status);
        Assert.DoesNotContain("nobody-known", (await server.Get("/api/past-orders")).ToJsonString(), StringComparison.Ordinal);

        // The same file again brings nothing, a longer one what is new; what is there stays.
        var again = await Brought(server, List + "\n00020;3.12.2025;A;1;1;;;;;;\n");
        Assert.Equal((1, 3), ((int)again["look"]!["new"]!, (int)again["look"]!["same"]!));
        Assert.Equal(4, (await Listed(server, "")).Count);
        var steps = (await server.Get("/api/goods/steps")).AsArray();
        Assert.Equal((1, "from list.csv"), ((int)steps[0]!["rows"]!, (string)steps[0]!["by"]!));
        await server.Send(HttpMethod.Post, $"/api/goods/steps/{steps[1]!["number"]}/back", new { });
        Assert.Equal(["00020 2025-12-03T03:00:00Z  1"], await Listed(server, ""));
        var (status, _) = await server.Send(HttpMethod.Post, $"/api/goods/steps/{steps[1]!["number"]}/back", new { });
        Assert.Equal(404, status);
    }

    [Fact]
    public async Task Every_bad_row_is_told_and_nothing_is_written()
    {
        await using var server = await OwnShop.Of("KWD").Serve();
        var (_, state) = await ImportTests.Bring(
            server,
            """
            order,at,sku,quantity,paid,delivery,shopper,place,currency
            1,0000-01-01,A,1,1,,,,
            2,2025-02-29,A,1,1,,,,
            3,2999-01-01,A,1,1,,,,
            4,2025-03-01,A,0,1,,,,
            5,2025-03-01,A,1.5,1,,,,
            6,2025-03-01,NONE,1,,,,,
            7,2025-03-01,A,1,1 USD,,,,
            8,2025-03-01,A,1,1,2,,,
            8,2025-03-01,B,1,1,3,,,
            8,2025-03-02,C,1,1,,,,
            9,2025-03-01,A,1,1,,,ZZ,
            10,2025-03-01,A,1,1,,,,CHF
            11,2025-03-01,A,1,1,,guest:1,,
            ,2025-03-01,A,1,1,,,,
            12,2025-03-01,A,1,1.0001,,,,
            13,2025-03-01,A,1,1.01,,,,GBP
            """
        );
        Assert.Equal(
            [
                "2 at wrongType",
                "3 at wrongType",
                "4 at outOfRange",
                "5 quantity outOfRange",
                "6 quantity notAnInteger",
                "7 paid missing",
                "8 paid unknownCurrency",
                "10 delivery conflict",
                "11 at conflict",
                "12 place unknownPlace",
                "13 currency unknownCurrency",
                "14 shopper notAllowed",
                "15 order missing",
                "16 paid notAnAmount",
            ],
            state!["look"]!["bad"]!.AsArray().Select(bad => $"{bad!["line"]} {bad["member"]} {bad["code"]}")
        );
        var (status, _) = await server.Send(HttpMethod.Post, $"/api/imports/{state["id"]}/write", new { });
        Assert.Equal(422, status);
        Assert.Empty(await Listed(server, ""));
    }

    private static async Task<JsonNode> Brought(RunningServer server, string list)
    {
        await server.Http.DeleteAsync(new Uri($"/api/imports/{(await server.Get("/api/imports"))["id"]}", UriKind.Relative));
        var (_, state) = await ImportTests.Bring(server, list);
        var marks = state!["columns"]!.AsArray().Select(column => (string)column!["field"]! == "at" ? "day" : "").ToArray();
        (_, state) = await server.Send(HttpMethod.Post, $"/api/imports/{state["id"]}/look", new { marks });
        await server.Send(HttpMethod.Post, $"/api/imports/{state!["id"]}/write", new { });
        return await ImportTests.Done(server);
    }

    private static async Task<IReadOnlyList<string>> Listed(RunningServer server, string q) =>
        [
            .. (await server.Get($"/api/past-orders?q={Uri.EscapeDataString(q)}"))["orders"]!
                .AsArray()
                .Select(order => $"{order!["number"]} {order["placedAt"]} {order["who"]} {order["total"]}"),
        ];

    private static string[] Texts(JsonNode list, string? member = null) =>
        [.. list.AsArray().Select(one => (string)(member is null ? one : one![member])!)];
}
