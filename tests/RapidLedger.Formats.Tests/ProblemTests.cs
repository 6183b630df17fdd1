using System.Reflection;
using System.Text;
using System.Text.Json;
using System.Text.Json.Nodes;

namespace RapidLedger.Formats.Tests;

/// <summary>Each way to be wrong is told once, with its place and its code.</summary>
public class ProblemTests
{
    [Theory]
    [InlineData("store/currency", "\"EURO\"", "/store/currency unknownCurrency")]
    [InlineData("store/currency", "7", "/store/currency wrongType")]
    [InlineData("store/timeZone", "\"Europe/Atlantis\"", "/store/timeZone unknownTimeZone")]
    [InlineData("store/rounding", "\"up\"", "/store/rounding unknownValue")]
    [InlineData("store/policy", "\"greedy\"", "/store/policy unknownValue")]
    [InlineData("store/rates", """{"GBP": "0"}""", "/store/rates/GBP notARate")]
    [InlineData("store/rates", """{"XYZ": "1"}""", "/store/rates/XYZ unknownCurrency")]
    [InlineData("store/families", """[{"name": "a"}, {"name": "a"}]""", "/store/families/1/name duplicate")]
    [InlineData("store/shipping", """[{"id": "p"}]""", "/store/shipping/0 exactlyOne")]
    [InlineData(
        "store/shipping",
        """[{"id": "p", "bands": [{"toGrams": 9, "price": "1.00"}, {"toGrams": 9, "price": "2.00"}]}]""",
        "/store/shipping/0/bands/1/toGrams notAscending"
    )]
    [InlineData(
        "store/tax",
        """{"mode": "inclusive", "rates": [{"class": "s", "place": "QQ", "percent": 19}]}""",
        "/store/tax/rates/0/place unknownPlace"
    )]
    [InlineData("store/tax", """{"mode": "inclusive", "rates": [{"class": "s", "place": "DE"}]}""", "/store/tax/rates/0/percent missing")]
    [InlineData("store/marginFloor", "101", "/store/marginFloor outOfRange")]
    [InlineData(
        "catalogue/categories",
        """[{"id": "a", "name": "A", "parent": "b"}, {"id": "b", "name": "B", "parent": "a"}]""",
        "/catalogue/categories/0/parent cycle"
    )]
    [InlineData("catalogue/categories", """[{"id": "a", "name": "A", "parent": "zz"}]""", "/catalogue/categories/0/parent unknownCategory")]
    [InlineData("catalogue/products/0/category", "\"zz\"", "/catalogue/products/0/category unknownCategory")]
    [InlineData("catalogue/products/0/variants/0/price", "\"11.00\"", "/catalogue/products/0/variants/0/price aboveRegular")]
    [InlineData("catalogue/products/0/variants/0/regular", "\"1,00\"", "/catalogue/products/0/variants/0/regular notAnAmount")]
    [InlineData("catalogue/products/0/variants/0/regular", "1", "/catalogue/products/0/variants/0/regular wrongType")]
    [InlineData(
        "catalogue/products/0/variants/0/regular",
        """{"JPY": "100"}""",
        "/catalogue/products/0/variants/0/regular currencyMissing"
    )]
    [InlineData("catalogue/products/0/variants/0/stock", "1.5", "/catalogue/products/0/variants/0/stock notAnInteger")]
    [InlineData("catalogue/products/0/variants/1", """{"sku": "A", "regular": "1.00"}""", "/catalogue/products/0/variants/1/sku duplicate")]
    [InlineData("promotions/0/id", "\"\"", "/promotions/0/id empty")]
    [InlineData("promotions/0/state", "\"on\"", "/promotions/0/state unknownValue")]
    [InlineData("promotions/0/trigger", "{}", "/promotions/0/trigger exactlyOne")]
    [InlineData("promotions/0/trigger", """{"automatic": true, "codes": ["A"]}""", "/promotions/0/trigger exactlyOne")]
    [InlineData("promotions/0/trigger", """{"codes": ["a", " A "]}""", "/promotions/0/trigger/codes/1 duplicate")]
    [InlineData("promotions/0/trigger", """{"codes": ["  "]}""", "/promotions/0/trigger/codes/0 empty")]
    [InlineData(
        "promotions/0/trigger",
        """{"codes": ["1234567890123456789012345678901234567890123456789012345678901234", "12345678901234567890123456789012345678901234567890123456789012345"]}""",
        "/promotions/0/trigger/codes/1 outOfRange"
    )]
    [InlineData("promotions/0/trigger", """{"batches": ["zz"]}""", "/promotions/0/trigger/batches/0 unknownBatch")]
    [InlineData("promotions/0/says", """{"near": "{missin} more"}""", "/promotions/0/says/near unknownValue")]
    [InlineData("promotions/0/says", """{"reached": {"de": "gut", "german!": "gut"}}""", "/promotions/0/says/reached/german! unknownValue")]
    [InlineData("promotions/0/says", """{"near": "{left} left"}""", "/promotions/0/says/near notAllowed")]
    [InlineData("promotions/0/says", """{"show": ["window"]}""", "/promotions/0/says/show/0 unknownValue")]
    [InlineData("batches", """{"b7": {"usesEach": 0, "codes": {}}}""", "/batches/b7/usesEach outOfRange")]
    [InlineData("batches", """{"b7": {"lastDay": "2027-02-30", "codes": {}}}""", "/batches/b7/lastDay notALocalTime")]
    [InlineData("batches", """{"b7": {"codes": {"A-1": {}, "a 1": {}}}}""", "/batches/b7/codes/a 1 duplicate")]
    [InlineData("batches", """{"b7": {"codes": {"- ": {}}}}""", "/batches/b7/codes/-  empty")]
    [InlineData("batches", """{"b7": {"codes": {"B": {"drawn": "1.00"}}}}""", "/batches/b7/codes/B/drawn notAllowed")]
    [InlineData("promotions/0/window", """{"start": "2027-03-01"}""", "/promotions/0/window/start notALocalTime")]
    [InlineData("promotions/0/window", """{"repeat": "FREQ=WEEKLY", "lasts": "PT1H"}""", "/promotions/0/window/start missing")]
    [InlineData("promotions/0/window", """{"graceMinutes": 1441}""", "/promotions/0/window/graceMinutes outOfRange")]
    [InlineData(
        "promotions/0/window",
        """{"start": "2027-03-01T00:00", "repeat": "FREQ=SOMETIMES", "lasts": "PT1H"}""",
        "/promotions/0/window/repeat notARule"
    )]
    [InlineData(
        "promotions/0/window",
        """{"start": "2027-03-01T00:00", "repeat": "FREQ=DAILY", "lasts": "P1M"}""",
        "/promotions/0/window/lasts notADuration"
    )]
    [InlineData("promotions/0/window", """{"start": "2027-03-01T00:00", "repeat": "FREQ=DAILY"}""", "/promotions/0/window/lasts missing")]
    [InlineData("promotions/0/when", """{"spend": {"from": "-1.00"}}""", "/promotions/0/when/spend/from negative")]
    [InlineData("promotions/0/when", """{"quantity": {"op": "=>", "n": 1}}""", "/promotions/0/when/quantity/op unknownValue")]
    [InlineData("promotions/0/when", """{"shopper": {"is": "guest", "groups": ["a"]}}""", "/promotions/0/when/shopper exactlyOne")]
    [InlineData("promotions/0/when", """{"destination": {"in": ["Germany"]}}""", "/promotions/0/when/destination/in/0 unknownPlace")]
    [InlineData("promotions/0/when", """{"method": ["pigeon"]}""", "/promotions/0/when/method/0 unknownMethod")]
    [InlineData(
        "promotions/0/when",
        """{"none": [{"spend": {"from": "1.00", "basis": "after"}}]}""",
        "/promotions/0/when/none/0/spend/basis notAllowed"
    )]
    [InlineData("promotions/0/when", """{"everything": true}""", "/promotions/0/when/everything unknownName")]
    [InlineData("promotions/0/limits", """{"budget": "1.005"}""", "/promotions/0/limits/budget tooManyDecimals")]
    [InlineData("promotions/0/stacking", """{"allow": "only"}""", "/promotions/0/stacking/with missing")]
    [InlineData("promotions/0/stacking", """{"allow": "any", "with": ["pass:item"]}""", "/promotions/0/stacking/with notAllowed")]
    [InlineData("promotions/0/stacking", """{"allow": "except", "with": ["family:zz"]}""", "/promotions/0/stacking/with/0 unknownFamily")]
    [InlineData("promotions/0/stacking", """{"allow": "except", "with": ["pass:price"]}""", "/promotions/0/stacking/with/0 unknownValue")]
    [InlineData("promotions/0/rewards/0", """{"on": {"in": [{"all": true}]}}""", "/promotions/0/rewards/0/kind missing")]
    [InlineData("promotions/0/rewards/0", """{"kind": "surprise"}""", "/promotions/0/rewards/0/kind unknownValue")]
    [InlineData(
        "promotions/0/rewards/0",
        """{"kind": "discount", "on": {"in": [{"all": true}]}, "take": {"price": "1.00"}, "per": "cart"}""",
        "/promotions/0/rewards/0/take/price notAllowed"
    )]
    [InlineData(
        "promotions/0/rewards/0",
        """{"kind": "discount", "on": {"in": [{"all": true}]}, "take": {"percent": 5}, "per": "cart", "maxUnits": 1}""",
        "/promotions/0/rewards/0/maxUnits notAllowed"
    )]
    [InlineData(
        "promotions/0/rewards/0",
        """{"kind": "discount", "on": {"in": [{"all": false}]}, "take": {"percent": 5}, "per": "unit"}""",
        "/promotions/0/rewards/0/on/in/0/all unknownValue"
    )]
    [InlineData(
        "promotions/0/rewards/0",
        """{"kind": "discount", "on": {"in": [{"product": "zz"}]}, "take": {"percent": 5}, "per": "unit"}""",
        "/promotions/0/rewards/0/on/in/0/product unknownProduct"
    )]
    [InlineData(
        "promotions/0/rewards/0",
        """{"kind": "buyGet", "buy": {"of": {"in": [{"all": true}]}, "quantity": 1}, "get": {"of": {"in": [{"all": true}]}, "quantity": 1, "take": {"percent": 100}}, "same": "sku"}""",
        "/promotions/0/rewards/0/get/of notAllowed"
    )]
    [InlineData(
        "promotions/0/rewards/0",
        """{"kind": "buyGet", "buy": {"of": {"in": [{"all": true}]}, "spend": "0.00"}, "get": {"of": {"in": [{"all": true}]}, "quantity": 1, "take": {"percent": 100}}}""",
        "/promotions/0/rewards/0/buy/spend outOfRange"
    )]
    [InlineData(
        "promotions/0/rewards/0",
        """{"kind": "ladder", "measure": "quantity", "of": {"in": [{"all": true}]}, "apply": "all", "steps": [{"from": 2, "rewards": [{"kind": "points", "fixed": 1}]}, {"from": 2, "rewards": [{"kind": "points", "fixed": 1}]}]}""",
        "/promotions/0/rewards/0/steps/1/from notAscending"
    )]
    [InlineData(
        "promotions/0/rewards/0",
        """{"kind": "ladder", "measure": "spend", "of": {"in": [{"all": true}]}, "apply": "highest", "steps": [{"from": "2.00", "rewards": [{"kind": "credit", "amount": "1.00", "keepRest": true}]}]}""",
        "/promotions/0/rewards/0/steps/0/rewards/0/kind notAllowed"
    )]
    [InlineData(
        "promotions/0/rewards/0",
        """{"kind": "bundle", "slots": [{"of": {"in": [{"all": true}]}, "quantity": 1}]}""",
        "/promotions/0/rewards/0 exactlyOne"
    )]
    [InlineData(
        "promotions/0/rewards/0",
        """{"kind": "gift", "give": {"skus": ["ZZ"]}}""",
        "/promotions/0/rewards/0/give/skus/0 unknownSku"
    )]
    [InlineData(
        "promotions/0/rewards/0",
        """{"kind": "gift", "give": {"skus": ["A"]}, "times": {"per": {"of": {"in": [{"all": true}]}}}}""",
        "/promotions/0/rewards/0/times/per exactlyOne"
    )]
    [InlineData("promotions/0/rewards/0", """{"kind": "points", "fixed": 1, "each": "1.00"}""", "/promotions/0/rewards/0 exactlyOne")]
    [InlineData(
        "promotions/0/rewards/0",
        """{"kind": "shipping", "methods": ["zz"], "take": {"percent": 100}}""",
        "/promotions/0/rewards/0/methods/0 unknownMethod"
    )]
    [InlineData("promotions/0/rewards/0", """{"kind": "credit", "amount": "5.00"}""", "/promotions/0/rewards/0/keepRest missing")]
    [InlineData(
        "promotions/0/rewards/1",
        """{"kind": "markdown", "levels": [{"on": {"in": [{"all": true}]}, "take": {"percent": 5}}]}""",
        "/promotions/0/rewards markdownAlone"
    )]
    [InlineData("usage", """{"zz": {"total": 1}}""", "/usage/zz unknownPromotion")]
    [InlineData("cart/at", "\"2027-03-05T10:00\"", "/cart/at notAnInstant")]
    [InlineData("cart/currency", "\"GBP\"", "/cart/currency noRate")]
    [InlineData("cart/method", "\"pigeon\"", "/cart/method unknownMethod")]
    [InlineData("cart/destination", "\"DE-\"", "/cart/destination unknownPlace")]
    [InlineData("cart/picks", """{"a": ["ZZ"]}""", "/cart/picks/a/0 unknownSku")]
    [InlineData("cart/lines/0/quantity", "1000001", "/cart/lines/0/quantity outOfRange")]
    [InlineData("cart/lines", "{}", "/cart/lines wrongType")]
    [InlineData("more", "1", "/more unknownName")]
    public void Is_told_once_with_its_place_and_code(string path, string json, string expected)
    {
        var document = Sound();
        Assert.Empty(Problems(document));
        Put(document, path.Split('/'), JsonNode.Parse(json));

        var told = Problems(document);

        Assert.Equal(expected, string.Join(", ", told.Select(problem => $"{problem.At} {problem.Code}")));
        Assert.All(told, problem => Assert.EndsWith(".", problem.Message));
    }

    [Fact]
    public void A_byte_order_mark_changes_nothing_whatever_the_encoding()
    {
        var text = Sound().ToJsonString();
        foreach (
            var encoding in (System.Text.Encoding[])
                [System.Text.Encoding.UTF8, System.Text.Encoding.Unicode, System.Text.Encoding.BigEndianUnicode]
        )
            Assert.Empty(CaseReader.Read((byte[])[.. encoding.GetPreamble(), .. encoding.GetBytes(text)]).Problems);
    }

    [Fact]
    public void Of_several_things_that_are_wrong_each_is_told()
    {
        // The faults above, three at a time in different parts of the document: none hides another.
        var faults = typeof(ProblemTests)
            .GetMethod(nameof(Is_told_once_with_its_place_and_code))!
            .GetCustomAttributes<InlineDataAttribute>()
            .Select(fault => (Path: (string)fault.Data[0]!, Json: (string)fault.Data[1]!, Told: (string)fault.Data[2]!))
            .ToLookup(fault => string.Join('/', fault.Path.Split('/').Take(fault.Path[0] is 'p' ? 3 : 2)));
        string[] parts =
        [
            .. faults.Select(group => group.Key).Where(part => part is not ("store/currency" or "cart/currency" or "cart/picks")),
        ];
        var random = new Random(3);
        for (var number = 0; number < 1_500; number++)
        {
            var chosen = random
                .GetItems(parts, 3)
                .Distinct()
                .Select(part => faults[part].ElementAt(random.Next(faults[part].Count())))
                .ToArray();
            var document = Sound();
            foreach (var (path, json, _) in chosen)
                Put(document, path.Split('/'), JsonNode.Parse(json));
            Assert.Equal(
                chosen.Select(fault => fault.Told).Order(),
                Problems(document).Select(problem => $"{problem.At} {problem.Code}").Order()
            );
        }
    }

    [Fact]
    public void A_name_that_stands_twice_is_told_at_the_second()
    {
        var problem = Assert.Single(
            CaseReader
                .Read(
                    """{"store": {"currency": "EUR", "currency": "GBP"}, "catalogue": {}, "promotions": [], "cart": {"at": "2027-03-05T10:00:00Z", "lines": []}}"""u8.ToArray()
                )
                .Problems
        );
        Assert.Equal(("/store/currency", "duplicate"), (problem.At, problem.Code));
    }

    [Fact]
    public void What_is_not_json_is_told_with_its_line()
    {
        var problem = Assert.Single(CaseReader.Read(Encoding.UTF8.GetBytes("{\n\"store\": }")).Problems);
        Assert.Equal("notJson", problem.Code);
        Assert.Contains("line 2", problem.Message);
    }

    [Fact]
    public void A_cart_holds_as_many_lines_as_is_said_and_not_one_more()
    {
        var document = Sound();
        document["cart"]!["lines"] = new JsonArray([
            .. Enumerable.Range(0, 10_000).Select(_ => JsonNode.Parse("""{"sku": "A", "quantity": 1}""")),
        ]);
        Assert.Empty(Problems(document));

        document["cart"]!["lines"]!.AsArray().Add(JsonNode.Parse("""{"sku": "A", "quantity": 1}"""));
        var problem = Assert.Single(Problems(document));
        Assert.Equal(("/cart/lines", "outOfRange"), (problem.At, problem.Code));
        Assert.Contains("10000", problem.Message);
    }

    [Theory]
    [InlineData("""{"total": "1.00"}""", """{"total": "1.00", "due": "2.00"}""", "")]
    [InlineData("""{"total": "1.00", "due": "2.00"}""", """{"total": "1.00"}""", "/due: expected \"2.00\", is not there")]
    [InlineData(
        """{"codes": [{"code": "A"}, {"code": "B"}]}""",
        """{"codes": [{"code": "A", "status": "applied"}]}""",
        """/codes: expected [{"code": "A"}, {"code": "B"}], is [{"code": "A", "status": "applied"}]"""
    )]
    [InlineData(
        """{"codes": [{"code": "A"}]}""",
        """{"codes": [{"code": "A"}, {"code": "B"}]}""",
        """/codes: expected [{"code": "A"}], is [{"code": "A"}, {"code": "B"}]"""
    )]
    [InlineData("""{"codes": []}""", """{"codes": [{"code": "A"}]}""", """/codes: expected [], is [{"code": "A"}]""")]
    [InlineData("""{"codes": [{"code": "B"}]}""", """{"codes": [{"code": "A"}]}""", """/codes/0/code: expected "B", is "A" """)]
    [InlineData("""{"proved": null}""", """{"proved": false}""", "/proved: expected null, is false")]
    public void What_a_case_expects_is_compared_whole(string expected, string result, string differences)
    {
        using var wanted = JsonDocument.Parse(expected);
        using var found = JsonDocument.Parse(result);
        Assert.Equal(differences.TrimEnd(), string.Join("; ", Expectation.Differences(wanted.RootElement, found.RootElement)));
    }

    private static JsonNode Sound() =>
        JsonNode.Parse(
            """
            {"store": {"currency": "EUR"},
             "catalogue": {"categories": [{"id": "c", "name": "C"}], "products": [{"id": "p", "name": "P", "variants": [{"sku": "A", "regular": "10.00"}]}]},
             "promotions": [{"id": "a", "rewards": [{"kind": "discount", "on": {"in": [{"all": true}]}, "take": {"percent": 10}, "per": "cart"}]}],
             "cart": {"at": "2027-03-05T10:00:00+01:00", "lines": [{"sku": "A", "quantity": 1}]}}
            """
        )!;

    private static IReadOnlyList<Problem> Problems(JsonNode document) =>
        CaseReader.Read(Encoding.UTF8.GetBytes(document.ToJsonString())).Problems;

    private static void Put(JsonNode document, string[] path, JsonNode? value)
    {
        foreach (var step in path[..^1])
            document = int.TryParse(step, out var index) ? document[index]! : document[step]!;
        if (document is JsonArray list)
            list.Insert(int.Parse(path[^1], System.Globalization.CultureInfo.InvariantCulture), value);
        else
            document[path[^1]] = value;
        // In a list the value takes the place of the one that stood there.
        if (document is JsonArray { Count: > 1 } two && path[^1] == "0")
            two.RemoveAt(1);
    }
}
