using System.Text;
using System.Text.Json.Nodes;
using RapidLedger.Pricing;

namespace RapidLedger.Formats.Tests;

/// <summary>Condition trees against json-logic-js (npm, MIT), the reference implementation of JsonLogic.</summary>
public class JsonLogicTests
{
    private static readonly string[] Leaves =
    [
        """{"spend": {"of": {"in": [{"category": "wheels"}]}, "from": "20.00"}}""",
        """{"spend": {"from": "10.00", "to": "60.00"}}""",
        """{"quantity": {"of": {"in": [{"tag": "light"}], "out": [{"sku": "T2"}]}, "op": ">=", "n": 2}}""",
        """{"quantity": {"op": "!=", "n": 3}}""",
        """{"quantity": {"of": {"in": [{"brand": "Velt"}], "fullPriceOnly": true}, "op": ">", "n": 0}}""",
        """{"distinct": {"of": {"in": [{"all": true}], "priceFrom": "5.00"}, "op": "=", "n": 2}}""",
        """{"only": {"in": [{"category": "tubes"}, {"product": "bag"}]}}""",
        """{"weight": {"op": "<", "grams": 900}}""",
        """{"shopper": {"is": "guest"}}""",
        """{"shopper": {"groups": ["trade", "club"]}}""",
        """{"shopper": {"orders": {"op": "<=", "n": 2}}}""",
        """{"shopper": {"spent": {"from": "50.00"}}}""",
        """{"shopper": {"ids": ["s1"]}}""",
        """{"destination": {"in": ["ES", "DE-BE"], "out": ["ES-CN"]}}""",
        """{"destination": {"out": ["DE"]}}""",
        """{"channel": ["web"]}""",
        """{"currency": ["GBP", "EUR"]}""",
    ];

    [Fact]
    public void Conditions_decide_as_the_reference_does()
    {
        var random = new Random(11);
        var asked = new JsonArray();
        var ours = new List<bool>();
        for (var number = 0; number < 600; number++)
        {
            var (json, cart) = (Case(Tree(random, 3), random), number);
            var reading = CaseReader.Read(Encoding.UTF8.GetBytes(json));
            Assert.Empty(reading.Problems);
            var read = reading.Value!;
            var logic = new JsonLogic(CatalogueIndex.Of(read.Store, read.Catalogue), read.Store.Currency);
            asked.Add(new JsonArray(logic.Rule(read.Promotions[0].When), logic.Data(read.Cart)));
            ours.Add(read.Price().Outcomes[0].Reason is not Reason.ConditionNotMet);
        }

        var theirs = NodeScript.Ask(
            "import jsonLogic from 'json-logic-js'; console.log(JSON.stringify(asked.map(([rule, data]) => !!jsonLogic.apply(rule, data))));",
            asked.ToJsonString()
        );
        Assert.Equal(theirs.EnumerateArray().Select(answer => answer.GetBoolean()), ours);
        // Both answers come up often, or nothing would be shown.
        Assert.InRange(ours.Count(holds => holds), 100, 500);
    }

    // Rules as one who knows only the cart writes them, over data that the script makes of the case itself; amounts in cents.
    private static readonly (string When, string Rule)[] Foreign =
    [
        (
            """{"spend": {"from": "30.00"}}""",
            """{">=": [{"reduce": [{"var": "lines"}, {"+": [{"var": "accumulator"}, {"*": [{"var": "current.cents"}, {"var": "current.units"}]}]}, 0]}, 3000]}"""
        ),
        (
            """{"all": [{"quantity": {"op": ">=", "n": 2}}, {"quantity": {"op": "<", "n": 6}}]}""",
            """{"<": [1, {"reduce": [{"var": "lines"}, {"+": [{"var": "current.units"}, {"var": "accumulator"}]}, 0]}, 6]}"""
        ),
        (
            """{"any": [{"quantity": {"of": {"in": [{"sku": "B1"}]}, "op": ">", "n": 0}}, {"quantity": {"of": {"in": [{"sku": "W1"}]}, "op": ">", "n": 0}}]}""",
            """{"some": [{"var": "lines"}, {"in": [{"var": "item"}, ["B1", "W1"]]}]}"""
        ),
        (
            """{"none": [{"quantity": {"of": {"in": [{"category": "wheels"}]}, "op": ">=", "n": 1}}]}""",
            """{"none": [{"var": "lines"}, {"in": [{"var": "shelf"}, "wheels tubes"]}]}"""
        ),
        ("""{"only": {"in": [{"brand": "Velt"}]}}""", """{"all": [{"var": "lines"}, {"===": [{"var": "make"}, "Velt"]}]}"""),
        ("""{"distinct": {"op": "=", "n": 2}}""", """{"==": [2, {"var": "kinds"}]}"""),
        (
            """{"weight": {"op": "<=", "grams": 1000}}""",
            """{"!": {">": [{"reduce": [{"var": "lines"}, {"+": [{"var": "accumulator"}, {"*": [{"var": "current.units"}, {"var": "current.grams"}]}]}, 0]}, 1000]}}"""
        ),
        (
            """{"quantity": {"of": {"in": [{"all": true}], "fullPriceOnly": true}, "op": ">=", "n": 2}}""",
            """{"<=": [2, {"reduce": [{"filter": [{"var": "lines"}, {"!": {"var": "reduced"}}]}, {"+": [{"var": "accumulator"}, {"var": "current.units"}]}, 0]}]}"""
        ),
        ("""{"shopper": {"is": "guest"}}""", """{"!": {"var": "who"}}"""),
        (
            """{"all": [{"shopper": {"is": "signedIn"}}, {"none": [{"shopper": {"groups": ["trade"]}}]}]}""",
            """{"and": [{"!!": {"var": "who"}}, {"!": {"in": ["trade", {"var": "who.groups"}]}}]}"""
        ),
        ("""{"shopper": {"orders": {"op": "=", "n": 0}}}""", """{"if": [{"var": "who"}, {"==": [{"var": "who.orders"}, 0]}, true]}"""),
        (
            """{"shopper": {"spent": {"from": "25.00", "to": "75.00"}}}""",
            """{"and": [{"var": "who"}, {"<=": [25, {"var": "who.spent"}, 75]}]}"""
        ),
        ("""{"destination": {"in": ["ES", "DE-BE"], "out": ["ES-CN"]}}""", """{"in": [{"var": "to"}, ["ES", "DE-BE"]]}"""),
        ("""{"destination": {"in": ["ES"]}}""", """{"===": ["ES", {"substr": [{"var": "to"}, 0, 2]}]}"""),
        ("""{"channel": ["web"]}""", """{"===": [{"var": "channel"}, "web"]}"""),
        (
            """{"any": [{"channel": ["web"]}, {"all": [{"spend": {"from": "10.00", "to": "60.00"}}]}]}""",
            """{"or": [{"!==": [{"var": "channel"}, "app"]}, {"and": [{">=": [{"var": "sum"}, 1000]}, {"<=": [{"var": "sum"}, 6000]}]}]}"""
        ),
    ];

    [Fact]
    public void Conditions_decide_as_rules_do_that_were_written_without_them()
    {
        var random = new Random(29);
        var asked = new JsonArray();
        var ours = new List<bool>();
        for (var number = 0; number < 40 * Foreign.Length; number++)
        {
            var (when, rule) = Foreign[number % Foreign.Length];
            var json = Case(when, random);
            ours.Add(CaseReader.Read(Encoding.UTF8.GetBytes(json)).Value!.Price().Outcomes[0].Reason is not Reason.ConditionNotMet);
            asked.Add(new JsonArray(JsonNode.Parse(rule), JsonNode.Parse(json)));
        }

        var theirs = NodeScript
            .Ask(
                """
                import jsonLogic from 'json-logic-js';
                const facts = ({ catalogue, cart }) => {
                  const lines = cart.lines.map(({ sku, quantity }) => {
                    const product = catalogue.products.find((one) => one.variants.some((variant) => variant.sku === sku));
                    const variant = product.variants.find((one) => one.sku === sku);
                    return { item: sku, units: quantity, cents: Math.round(Number(variant.price ?? variant.regular) * 100), reduced: variant.price !== undefined, grams: variant.grams ?? 0, shelf: product.category ?? '-', make: product.brand };
                  });
                  const who = cart.shopper && { ...cart.shopper, spent: Number(cart.shopper.spent) };
                  return { lines, who, to: cart.destination ?? '', channel: cart.channel, kinds: new Set(cart.lines.map((one) => one.sku)).size, sum: lines.reduce((sum, one) => sum + one.cents * one.units, 0) };
                };
                console.log(JSON.stringify(asked.map(([rule, read]) => !!jsonLogic.apply(rule, facts(read)))));
                """,
                asked.ToJsonString()
            )
            .EnumerateArray()
            .Select(answer => answer.GetBoolean())
            .ToArray();
        Assert.Equal(
            "",
            string.Join(
                '\n',
                Enumerable
                    .Range(0, theirs.Length)
                    .Where(at => theirs[at] != ours[at])
                    .Select(at => $"{Foreign[at % Foreign.Length].When} is {ours[at]} of {asked[at]![1]!["cart"]!.ToJsonString()}")
            )
        );
        // Each of them holds of some carts and not of others.
        Assert.All(Enumerable.Range(0, Foreign.Length), one =>
            Assert.Equal([false, true], ours.Where((_, at) => at % Foreign.Length == one).Distinct().Order())
        );
    }

    private static string Tree(Random random, int depth) =>
        depth == 0 || random.Next(3) == 0
            ? Leaves[random.Next(Leaves.Length)]
            : $$$$"""{"{{{{new[] { "all", "any", "none" }[random.Next(3)]}}}}": [{{{{string.Join(',', Enumerable.Range(0, random.Next(4)).Select(_ => Tree(random, depth - 1)))}}}}]}""";

    private static string Case(string when, Random random)
    {
        string[] skus = ["T1", "T2", "B1", "W1"];
        var lines = string.Join(
            ',',
            Enumerable
                .Range(0, random.Next(1, 4))
                .Select(_ => $$$$"""{"sku": "{{{{skus[random.Next(4)]}}}}", "quantity": {{{{random.Next(1, 4)}}}}}""")
        );
        var shopper =
            random.Next(3) == 0
                ? ""
                : $$$$""", "shopper": {"id": "s{{{{random.Next(1, 3)}}}}", "groups": ["{{{{new[] { "trade", "staff" }[random.Next(2)]}}}}"], "orders": {{{{random.Next(5)}}}}, "spent": "{{{{random.Next(100)}}}}.00"}""";
        var destination = new[] { "", """, "destination": "DE-BE" """, """, "destination": "ES-CN" """, """, "destination": "ES" """ }[
            random.Next(4)
        ];
        return $$$$"""
            {"store": {"currency": "EUR"},
             "catalogue": {"categories": [{"id": "wheels", "name": "W"}, {"id": "tubes", "name": "T", "parent": "wheels"}],
               "products": [{"id": "tube", "name": "T", "category": "tubes", "brand": "Velt", "tags": ["light"], "variants": [{"sku": "T1", "regular": "6.90", "grams": 140}, {"sku": "T2", "regular": "7.50", "price": "4.00", "grams": 150}]},
                 {"id": "bag", "name": "B", "variants": [{"sku": "B1", "regular": "60.00", "grams": 900}]}, {"id": "wheel", "name": "W", "category": "wheels", "brand": "Harrow", "variants": [{"sku": "W1", "regular": "25.00"}]}]},
             "promotions": [{"id": "p", "when": {{{{when}}}}, "rewards": [{"kind": "points", "fixed": 1}]}],
             "cart": {"at": "2027-03-05T10:00:00Z", "channel": "{{{{new[] { "web", "app" }[
                random.Next(2)
            ]}}}}", "lines": [{{{{lines}}}}]{{{{shopper}}}}{{{{destination}}}}}}
            """;
    }
}
