using System.Globalization;
using System.Text;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using CsCheck;
using RapidLedger.Pricing;

namespace RapidLedger.Formats.Tests;

/// <summary>
/// What the words of a reward say of how often it is given is what carts get: the sentence is read here by itself, by whoever knows nothing
/// but English and how to divide.
/// </summary>
public class RepeatWordsTests
{
    private const int PriceOfA = 400;
    private const int PriceOfB = 300;

    private static readonly Gen<JsonNode?> Repeats = Gen.OneOf(
        Gen.Const((JsonNode?)null),
        Gen.Const("once").Select(word => (JsonNode?)word),
        Gen.Const("every").Select(word => (JsonNode?)word),
        Gen.Int[1, 3].Select(most => (JsonNode?)new JsonObject { ["atMost"] = most })
    );

    private static JsonObject Of(string sku) => new() { ["in"] = new JsonArray(new JsonObject { ["sku"] = sku }) };

    private static JsonObject Tubes => new() { ["in"] = new JsonArray(new JsonObject { ["category"] = "tubes" }) };

    [Fact]
    public void Sets_come_as_often_as_the_words_say() =>
        Gen.Select(Repeats, Gen.Int[1, 2], Gen.Int[0, 7], Gen.Int[0, 7])
            .Sample(
                (repeat, ofA, a, b) =>
                {
                    var reward = new JsonObject
                    {
                        ["kind"] = "bundle",
                        ["slots"] = new JsonArray(
                            new JsonObject { ["of"] = Of("A"), ["quantity"] = ofA },
                            new JsonObject { ["of"] = Of("B"), ["quantity"] = 1 }
                        ),
                        ["take"] = new JsonObject { ["percent"] = 100 },
                    };
                    if (repeat is not null)
                        reward["repeat"] = repeat.DeepClone();
                    var (words, priced) = Priced(reward, a, b);
                    var sets = Regex.Match(words, @"the set of (\d+) of Tube A and (\d+) of Tube B free together, (.*)$");
                    var often = Math.Min(Math.Min(a / Number(sets, 1), b / Number(sets, 2)), Most(sets.Groups[3].Value));
                    Assert.Equal(often * ((Number(sets, 1) * PriceOfA) + (Number(sets, 2) * PriceOfB)), priced.Totals.Discount);
                },
                iter: 300
            );

    [Fact]
    public void What_is_got_for_what_is_bought_comes_as_often_as_the_words_say() =>
        Gen.Select(Repeats, Gen.Int[1, 3], Gen.Int[1, 2], Gen.Int[0, 9], Gen.Bool)
            .Sample(
                (repeat, buy, get, units, bySpend) =>
                {
                    var bought = new JsonObject { ["of"] = Of("A") };
                    if (bySpend)
                        bought["spend"] = "6.00";
                    else
                        bought["quantity"] = buy;
                    var reward = new JsonObject
                    {
                        ["kind"] = "buyGet",
                        ["buy"] = bought,
                        ["get"] = new JsonObject
                        {
                            ["of"] = Of("B"),
                            ["quantity"] = get,
                            ["take"] = new JsonObject { ["percent"] = 100 },
                        },
                    };
                    if (repeat is not null)
                        reward["repeat"] = repeat.DeepClone();
                    // Enough of what is got for whatever the words could mean.
                    var (words, priced) = Priced(reward, units, 40);
                    var deal = Regex.Match(words, @"for (\S+) of Tube A the cheapest (\d+) of Tube B free, (.*)$");
                    var each = deal.Groups[1].Value;
                    var fits = each.StartsWith('€')
                        ? units * PriceOfA / (long)(decimal.Parse(each[1..], CultureInfo.InvariantCulture) * 100)
                        : units / long.Parse(each, CultureInfo.InvariantCulture);
                    Assert.Equal(Math.Min(fits, Most(deal.Groups[3].Value)) * Number(deal, 2) * PriceOfB, priced.Totals.Discount);
                },
                iter: 300
            );

    [Fact]
    public void More_of_the_same_comes_as_often_as_the_words_say() =>
        Gen.Select(Repeats, Gen.Int[1, 3], Gen.Int[1, 2], Gen.Int[0, 9], Gen.Int[0, 9])
            .Sample(
                (repeat, buy, get, a, b) =>
                {
                    var reward = new JsonObject
                    {
                        ["kind"] = "buyGet",
                        ["buy"] = new JsonObject { ["of"] = Tubes, ["quantity"] = buy },
                        ["get"] = new JsonObject
                        {
                            ["quantity"] = get,
                            ["take"] = new JsonObject { ["percent"] = 100 },
                        },
                        ["same"] = "sku",
                    };
                    if (repeat is not null)
                        reward["repeat"] = repeat.DeepClone();
                    var (words, priced) = Priced(reward, a, b);
                    var deal = Regex.Match(words, @"for (\d+) of Tubes the cheapest (\d+) of them of the same item free, (.*)$");
                    var (bought, got) = (Number(deal, 1), Number(deal, 2));
                    long Got(long units, long most) => Math.Min(most, units / (bought + got)) * got;
                    var whole = Most(deal.Groups[3].Value);
                    // The cheapest first: those are B's.
                    var ofB = Math.Min(whole, b / (bought + got));
                    var expected = (ofB * got * PriceOfB) + (Got(a, whole - ofB) * PriceOfA);
                    Assert.Equal(expected, priced.Totals.Discount);
                },
                iter: 300
            );

    [Fact]
    public void Gifts_come_as_often_as_the_words_say() =>
        Gen.Select(Gen.Int[0, 3], Gen.Int[1, 3], Gen.Int[1, 2], Gen.Int[0, 3], Gen.Select(Gen.Int[0, 9], Gen.Int[0, 9]))
            .Sample(
                (kind, every, quantity, atMost, units) =>
                {
                    var (a, b) = units;
                    var reward = new JsonObject
                    {
                        ["kind"] = "gift",
                        ["give"] = kind == 0 ? new JsonObject { ["sameAs"] = Tubes } : new JsonObject { ["skus"] = new JsonArray("G") },
                        ["quantity"] = quantity,
                    };
                    if (kind < 3)
                        reward["times"] = new JsonObject
                        {
                            ["per"] = kind switch
                            {
                                0 => new JsonObject { ["quantity"] = every },
                                1 => new JsonObject { ["of"] = Of("A"), ["quantity"] = every },
                                _ => new JsonObject { ["of"] = Of("A"), ["spend"] = $"{every * 5}.00" },
                            },
                        };
                    // Once has no bound, and for each one of the same nothing need be said.
                    if (atMost > 0 && kind < 3)
                        reward["atMost"] = atMost;
                    if (kind == 0 && every == 1)
                        reward.Remove("times");
                    var (words, priced) = Priced(reward, a, b);
                    var told = Regex.Match(
                        words,
                        @"(\d+) (more of the same|Gift) free(?: for every (?:(\d+)|€(\S+)) ?(of one item|items?)? ?of (Tube A|Tubes))?(?:, at most (\d+) times?)?$"
                    );
                    Assert.True(told.Success, words);
                    var most = told.Groups[7].Success ? Number(told, 7) : long.MaxValue;
                    var expected = Number(told, 1) * Math.Min(most, Times());
                    Assert.Equal(a + b == 0 ? 0 : expected, priced.Gifts.Sum(gift => gift.Quantity));

                    long Times() =>
                        told.Groups[4].Success
                            ? a * PriceOfA / (long)(decimal.Parse(told.Groups[4].Value, CultureInfo.InvariantCulture) * 100)
                        : !told.Groups[3].Success ? 1
                        : told.Groups[5].Value == "of one item" ? (a / Number(told, 3)) + (b / Number(told, 3))
                        : a / Number(told, 3);
                },
                iter: 400
            );

    private static long Number(Match match, int group) => long.Parse(match.Groups[group].Value, CultureInfo.InvariantCulture);

    // How often at most, in the words for it.
    private static long Most(string words) =>
        words switch
        {
            "once" => 1,
            "every time it fits" => 1000,
            _ => Number(Regex.Match(words, @"^at most (\d+) times$"), 1),
        };

    private static (string Words, PricedCart Priced) Priced(JsonObject reward, int a, int b)
    {
        var lines = new JsonArray(new JsonObject { ["sku"] = "A", ["quantity"] = a }, new JsonObject { ["sku"] = "B", ["quantity"] = b });
        foreach (var empty in lines.Where(line => line!["quantity"]!.GetValue<int>() == 0).ToArray())
            lines.Remove(empty);
        var document = new JsonObject
        {
            ["store"] = new JsonObject { ["currency"] = "EUR", ["timeZone"] = "Asia/Kathmandu" },
            ["catalogue"] = JsonNode.Parse(
                """
                {"categories": [{"id": "tubes", "name": "Tubes"}],
                 "products": [{"id": "a", "name": "Tube A", "category": "tubes", "variants": [{"sku": "A", "regular": "4.00"}]},
                              {"id": "b", "name": "Tube B", "category": "tubes", "variants": [{"sku": "B", "regular": "3.00"}]},
                              {"id": "g", "name": "Gift", "variants": [{"sku": "G", "regular": "2.00"}]}]}
                """
            ),
            ["promotions"] = new JsonArray(new JsonObject { ["id"] = "p", ["rewards"] = new JsonArray(reward) }),
            ["cart"] = new JsonObject { ["at"] = "2027-03-05T10:00:30Z", ["lines"] = lines },
        };
        var read = CaseReader.Read(Encoding.UTF8.GetBytes(document.ToJsonString()));
        Assert.Empty(read.Problems);
        var wording = new Wording(read.Value!.Index, read.Value.Store.Currency, CultureInfo.GetCultureInfo("en-GB"));
        var words = Sentence
            .Clauses(read.Value.Promotions[0], wording)
            .Single(clause => clause.Text.StartsWith("Gives", StringComparison.Ordinal))
            .Text;
        return (words.Replace(' ', ' '), Rulebook.Compile(read.Value.Index, read.Value.Promotions).Price(read.Value.Cart));
    }
}
