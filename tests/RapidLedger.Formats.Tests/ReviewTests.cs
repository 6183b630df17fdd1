using System.Globalization;
using System.Text;
using System.Text.Json.Nodes;
using RapidLedger.Pricing;

namespace RapidLedger.Formats.Tests;

/// <summary>Every check of the second look: what provokes it, with its figures; what its mend leads to; and what it lets pass.</summary>
public class ReviewTests
{
    private const string Shop = """
        {"store": {"currency": "EUR", "timeZone": "Europe/Berlin", "marginFloor": 20,
                   "shipping": [{"id": "parcel", "name": "Parcel", "price": "4.90", "cost": "11.00"}, {"id": "freight", "name": "Freight", "bands": [{"toGrams": 10000, "price": "9.00"}, {"price": "29.00"}]}, {"id": "fetch", "name": "Fetched", "price": "0.00"}]},
         "catalogue": {"categories": [{"id": "tyres", "name": "Tyres"}],
           "products": [{"id": "fell", "name": "Fell tyre", "category": "tyres", "variants": [{"sku": "FELL", "regular": "40.00", "cost": "30.00"}]},
                        {"id": "moor", "name": "Moor tyre", "category": "tyres", "variants": [{"sku": "MOOR", "regular": "20.00", "cost": "8.00", "stock": 7}]},
                        {"id": "pin", "name": "Pin", "variants": [{"sku": "PIN", "regular": "0.02"}]},
                        {"id": "old", "name": "Old tyre", "category": "tyres", "variants": [{"sku": "OLD", "regular": "20.00", "cost": "8.00", "gone": true}]}]},
         "promotions": [{"id": "live", "name": "Spring", "trigger": {"codes": ["SPRING15"]}, "rewards": [{"kind": "points", "fixed": 1}]}],
         "cart": {"at": "2027-03-05T10:00:00+01:00", "lines": [{"sku": "FELL", "quantity": 3}]}}
        """;

    private const string Fine = """{"kind": "discount", "on": {"in": [{"category": "tyres"}]}, "take": {"percent": 5}, "per": "unit"}""";

    public static TheoryData<string, string, string, string> Provoked =>
        new()
        {
            { "nameMissing", "/name", """{"rewards": [FINE]}""", "“new”" },
            {
                "codeShared",
                "/trigger/codes/0",
                """{"name": "N", "trigger": {"codes": ["spring15"]}, "rewards": [FINE]}""",
                "SPRING15 also starts “Spring”"
            },
            // 20.00 is what a Moor tyre costs.
            {
                "abovePrice",
                "/rewards/0/slots/0/take",
                """{"name": "N", "rewards": [{"kind": "bundle", "slots": [{"of": {"in": [{"sku": "MOOR"}]}, "quantity": 1, "take": {"amount": "20.00"}}, {"of": {"in": [{"sku": "FELL"}]}, "quantity": 1}]}]}""",
                "20.00 off each is all that Moor tyre at 20.00 costs: nothing is left to pay for it."
            },
            {
                "takenOut",
                "/rewards/0",
                """{"name": "N", "rewards": [{"kind": "discount", "on": {"in": [{"sku": "MOOR"}, {"product": "old"}]}, "take": {"percent": 5}, "per": "unit"}]}""",
                "Old tyre was taken out of the shop"
            },
            {
                "takenOut",
                "/when",
                """{"name": "N", "when": {"quantity": {"of": {"in": [{"sku": "OLD"}]}, "op": ">=", "n": 1}}, "rewards": [FINE]}""",
                "no cart can hold it"
            },
            { "codeWeak", "/trigger/codes/0", """{"name": "N", "trigger": {"codes": ["abc"]}, "rewards": [FINE]}""", "3 characters" },
            {
                "codeWeak",
                "/trigger/codes/0",
                """{"name": "N", "trigger": {"codes": ["SPRlNG15"]}, "rewards": [FINE]}""",
                "taken for SPRING15"
            },
            {
                "codeWeak",
                "/trigger/codes/0",
                """{"name": "N", "trigger": {"codes": ["SPRUNG15"]}, "rewards": [FINE]}""",
                "taken for SPRING15"
            },
            { "windowPast", "/window/end", """{"name": "N", "window": {"end": "2027-03-05T09:59"}, "rewards": [FINE]}""", "has passed" },
            {
                "windowPast",
                "/window/end",
                """{"name": "N", "window": {"end": "2027-03-05T10:40"}, "rewards": [FINE]}""",
                "over in 40 minutes"
            },
            {
                "windowAtClockChange",
                "/window/start",
                """{"name": "N", "window": {"start": "2027-03-28T02:30"}, "rewards": [FINE]}""",
                "does not exist"
            },
            {
                "windowAtClockChange",
                "/window/end",
                """{"name": "N", "window": {"end": "2027-10-31T02:30"}, "rewards": [FINE]}""",
                "comes twice"
            },
            {
                "contradiction",
                "/when/all/1",
                """{"name": "N", "when": {"all": [{"quantity": {"op": ">=", "n": 5}}, {"quantity": {"op": "<", "n": 5}}]}, "rewards": [FINE]}""",
                "at least 5 and at most 4"
            },
            {
                "contradiction",
                "/when",
                """{"name": "N", "when": {"spend": {"from": "50.00", "to": "49.99"}}, "rewards": [FINE]}""",
                "at least 50.00 and at most 49.99"
            },
            { "emptyBracket", "/when/all/0", """{"name": "N", "when": {"all": [{"any": []}]}, "rewards": [FINE]}""", "never holds" },
            { "emptyBracket", "/when/all/0", """{"name": "N", "when": {"all": [{"none": []}]}, "rewards": [FINE]}""", "always holds" },
            {
                "moreThanRound",
                "/when/quantity/op",
                """{"name": "N", "when": {"quantity": {"op": ">", "n": 10}}, "rewards": [FINE]}""",
                "begins at 11"
            },
            {
                "exactly",
                "/when/quantity/op",
                """{"name": "N", "when": {"quantity": {"op": "=", "n": 4}}, "rewards": [FINE]}""",
                "Exactly 4"
            },
            {
                "nothingGiven",
                "/rewards/0/take",
                """{"name": "N", "rewards": [{"kind": "shipping", "take": {"amount": "0.00"}}]}""",
                "nothing off"
            },
            {
                "nothingGiven",
                "/rewards/0",
                """{"name": "N", "rewards": [{"kind": "discount", "on": {"in": [{"category": "tyres"}], "priceFrom": "900.00"}, "take": {"percent": 5}, "per": "unit"}]}""",
                "No item is Tyres priced 900.00 or more"
            },
            {
                "nothingGiven",
                "/rewards/0/take",
                """{"name": "N", "rewards": [{"kind": "discount", "on": {"in": [{"sku": "PIN"}]}, "take": {"percent": 10}, "per": "unit"}]}""",
                "rounds to nothing"
            },
            {
                "wholeOrderUnlimited",
                "/rewards/0/on",
                """{"name": "N", "rewards": [{"kind": "discount", "on": {"in": [{"all": true}]}, "take": {"percent": 25}, "per": "cart"}]}""",
                "125.00 on an order of 500.00"
            },
            {
                "wholeOrderUnlimited",
                "/rewards/0/on",
                """{"name": "N", "rewards": [{"kind": "discount", "on": {"in": [{"all": true}]}, "take": {"percent": 50}, "per": "cart"}]}""",
                "250.00 on an order of 500.00"
            },
            {
                "unnamedItem",
                "/rewards/0/on",
                """{"name": "N", "rewards": [{"kind": "discount", "on": {"in": [{"all": true}]}, "take": {"percent": 50}, "per": "unit"}]}""",
                "off everything in the cart, not off one item"
            },
            {
                "unnamedItem",
                "/rewards/0/on",
                """{"name": "N", "rewards": [{"kind": "discount", "on": {"in": [{"all": true}], "fullPriceOnly": true}, "take": {"price": "9.90"}, "per": "unit"}]}""",
                "each thing in the cart costs 9.90 then"
            },
            {
                "unnamedItem",
                "/rewards/0/get/of",
                """{"name": "N", "rewards": [{"kind": "buyGet", "buy": {"of": {"in": [{"category": "tyres"}]}, "quantity": 1}, "get": {"of": {"in": [{"all": true}]}, "quantity": 1, "take": {"percent": 100}}}]}""",
                "up to Fell tyre at 40.00"
            },
            {
                "startPassed",
                "/window/start",
                """{"name": "N", "window": {"start": "2027-03-01T00:00", "end": "2027-04-01T00:00"}, "rewards": [FINE]}""",
                "Its start, 2027-03-01 00:00, has passed"
            },
            {
                "labelMissing",
                "/label",
                """{"name": "Spring, second try", "rewards": [FINE]}""",
                "who reads what you call it: “Spring, second try”"
            },
            {
                "labelAmount",
                "/label",
                """{"name": "N", "label": "€3 off from 50.00 EUR", "when": {"spend": {"from": "60.00"}}, "rewards": [{"kind": "discount", "on": {"in": [{"category": "tyres"}]}, "take": {"amount": "2.00"}, "per": "unit"}]}""",
                "It says 3 and 50.00, and the rule has 2.00 and 60.00"
            },
            {
                "labelAmount",
                "/label/de",
                """{"name": "N", "label": {"en": "2.00 € off", "de": "2,50 € Rabatt"}, "rewards": [{"kind": "discount", "on": {"in": [{"category": "tyres"}]}, "take": {"amount": "2.00"}, "per": "unit"}]}""",
                "It says 2,50, and the rule has 2.00"
            },
            {
                "labelDate",
                "/label",
                """{"name": "N", "label": "Only until 31 March", "window": {"end": "2027-04-15T00:00"}, "rewards": [FINE]}""",
                "It says 31 March, and the rule ends at"
            },
            {
                "labelDate",
                "/label",
                """{"name": "N", "label": "Until 1 January", "window": {"end": "2027-04-15T00:00"}, "rewards": [FINE]}""",
                "It says 1 January, and the rule ends at"
            },
            {
                "labelDate",
                "/name",
                """{"name": "Aktion bis 30.4.", "rewards": [FINE]}""",
                "It says 30.4., and the rule has neither a start nor an end"
            },
            {
                "labelFigure",
                "/label/de",
                """{"name": "N", "label": {"en": "5 % off", "de": "15 % Rabatt"}, "rewards": [FINE]}""",
                "says 15 %, and the rule gives 5 %"
            },
            {
                "eachUnit",
                "/rewards/0/per",
                """{"name": "N", "rewards": [{"kind": "discount", "on": {"in": [{"category": "tyres"}]}, "take": {"amount": "2.00"}, "per": "unit"}]}""",
                "20.00 off ten; on this cart 6.00, once for the cart 2.00"
            },
            {
                "oncePerCart",
                "/rewards/0/per",
                """{"name": "N", "rewards": [{"kind": "discount", "on": {"in": [{"category": "tyres"}]}, "take": {"amount": "2.00"}, "per": "cart"}]}""",
                "off each unit it would be 20.00 off ten; on this cart 2.00, off each unit 6.00"
            },
            // 40.00 costs 30.00: at 25 % nothing is earned, and a fifth of what is paid is to stay: at most 6 %, which leaves 37.60 and
            // 7.60 of it.
            {
                "belowCost",
                "/rewards/0/take",
                """{"name": "N", "rewards": [{"kind": "discount", "on": {"in": [{"category": "tyres"}]}, "take": {"percent": 26}, "per": "unit"}]}""",
                "1 item of 2 would be sold below cost: Fell tyre at 29.60"
            },
            // An amount and a price can be less as well: 37.50 is the last price of which a fifth is left.
            {
                "belowCost",
                "/rewards/0/take",
                """{"name": "N", "rewards": [{"kind": "discount", "on": {"in": [{"category": "tyres"}]}, "take": {"amount": "10.01"}, "per": "unit"}]}""",
                "sold below cost: Fell tyre at 29.99"
            },
            {
                "belowCost",
                "/rewards/0/levels/0/take",
                """{"name": "N", "rewards": [{"kind": "markdown", "levels": [{"on": {"in": [{"sku": "FELL"}]}, "take": {"price": "37.49"}}]}]}""",
                "floor of 20"
            },
            {
                "belowCost",
                "/rewards/0/take",
                """{"name": "N", "rewards": [{"kind": "discount", "on": {"in": [{"category": "tyres"}]}, "take": {"percent": 7}, "per": "unit"}]}""",
                "less than the floor of 20"
            },
            {
                "noEnd",
                "/window/end",
                """{"name": "N", "rewards": [{"kind": "discount", "on": {"in": [{"sku": "MOOR"}]}, "take": {"percent": 40}, "per": "unit"}]}""",
                "40 %"
            },
            {
                "shopperUnlimited",
                "/limits/perShopper",
                """{"name": "N", "trigger": {"codes": ["HALFOFF"]}, "rewards": [{"kind": "discount", "on": {"in": [{"sku": "MOOR"}]}, "take": {"percent": 50}, "per": "unit"}]}""",
                "again and again"
            },
            {
                "giftStock",
                "/rewards/0/give",
                """{"name": "N", "limits": {"total": 9}, "rewards": [{"kind": "gift", "give": {"skus": ["MOOR"]}}]}""",
                "promises 9 of Moor tyre, and 7 are in stock"
            },
            {
                "giftStock",
                "/rewards/0/give",
                """{"name": "N", "rewards": [{"kind": "gift", "give": {"skus": ["MOOR"]}, "quantity": 2}]}""",
                "7 of Moor tyre"
            },
            {
                "dearDelivery",
                "/rewards/0/take",
                """{"name": "N", "rewards": [{"kind": "shipping", "take": {"percent": 100}}]}""",
                "Freight, 29.00"
            },
            {
                "labelFigure",
                "/label",
                """{"name": "N", "label": "15 % off", "rewards": [{"kind": "discount", "on": {"in": [{"sku": "MOOR"}]}, "take": {"percent": 20}, "per": "unit"}]}""",
                "says 15 %, and the rule gives 20 %"
            },
        };

    /// <summary>The check, where, a promotion that is live beside, the one looked at, and what is said.</summary>
    public static TheoryData<string, string, string, string, string> ProvokedBeside =>
        new()
        {
            {
                "nothingCounts",
                "/when",
                "{}",
                """{"when": {"quantity": {"of": {"in": [{"tag": "worn"}]}, "op": ">=", "n": 1}}, "rewards": [FINE]}""",
                "this never holds"
            },
            {
                "nothingCounts",
                "/when",
                "{}",
                """{"when": {"distinct": {"of": {"in": [{"category": "tyres"}]}, "op": ">=", "n": 3}}, "rewards": [FINE]}""",
                "3 different ones of Tyres are asked for, and there are 2"
            },
            // 40.00 does not reach 40.10.
            {
                "justAbovePrice",
                "/when/spend/from",
                "{}",
                """{"when": {"spend": {"from": "40.10"}}, "rewards": [FINE]}""",
                "One Fell tyre at 40.00 does not reach 40.10: 0.10 is missing"
            },
            {
                "sameDay",
                "/window/start",
                """{"window": {"end": "2027-03-11T00:00"}, "rewards": [FINE]}""",
                """{"window": {"start": "2027-03-10T08:00"}, "rewards": [FINE]}""",
                "“Beside”, of the same items, ends"
            },
            {
                "sameDay",
                "/window/end",
                """{"window": {"start": "2027-04-01T00:00"}, "rewards": [FINE]}""",
                """{"window": {"end": "2027-04-01T12:00"}, "rewards": [FINE]}""",
                "begins 2027-04-01 00:00, the day this ends"
            },
            // 5 % of 40.00, and 50 % of what is left.
            {
                "meets",
                "/stacking",
                """{"rank": 60, "rewards": [{"kind": "discount", "on": {"in": [{"sku": "FELL"}]}, "take": {"percent": 50}, "per": "unit"}]}""",
                """{"rewards": [FINE]}""",
                "on 1 Fell tyre they take 21.00 of 40.00 together, 52.5 %"
            },
            {
                "meets",
                "/stacking",
                """{"trigger": {"codes": ["BESIDE-2027"]}, "rank": 60, "rewards": [{"kind": "discount", "on": {"in": [{"sku": "MOOR"}]}, "take": {"percent": 10}, "per": "unit"}]}""",
                """{"rewards": [FINE]}""",
                "It meets “Beside” by its code: on 1 Moor tyre they take 2.90 of 20.00"
            },
            // 40.00 less 20 % is 32.00, and less 10 % of that 28.80: no less than 30.00 is to be paid.
            {
                "belowCostTogether",
                "/stacking",
                """{"rank": 60, "rewards": [{"kind": "discount", "on": {"in": [{"sku": "FELL"}]}, "take": {"percent": 20}, "per": "unit"}]}""",
                """{"rewards": [{"kind": "discount", "on": {"in": [{"category": "tyres"}]}, "take": {"percent": 10}, "per": "unit"}]}""",
                "With “Beside” it sells below cost: 1 Fell tyre for 28.80, a loss of 1.20"
            },
            // A shopper in trade gets both.
            {
                "belowCostTogether",
                "/stacking",
                """{"rank": 60, "when": {"shopper": {"groups": ["trade"]}}, "rewards": [{"kind": "discount", "on": {"in": [{"sku": "FELL"}]}, "take": {"percent": 20}, "per": "unit"}]}""",
                """{"rewards": [{"kind": "discount", "on": {"in": [{"category": "tyres"}]}, "take": {"percent": 10}, "per": "unit"}]}""",
                "With “Beside” it sells below cost: 1 Fell tyre for 28.80, a loss of 1.20 for a shopper in trade."
            },
            // 40.00 less 5 % is 38.00, and less 5 % of that 36.10: 6.10 of it are 16.9 %, and the floor is 20 %.
            {
                "belowCostTogether",
                "/stacking",
                """{"rank": 60, "rewards": [FINE]}""",
                """{"rewards": [FINE]}""",
                ": 1 Fell tyre for 36.10, 6.10 of margin, 16.9 %."
            },
            // 20.00 marked down to 15.00, and half of that: 12.50 of 20.00.
            {
                "addsToMarkdown",
                "/rewards",
                """{"rewards": [{"kind": "markdown", "levels": [{"on": {"in": [{"sku": "MOOR"}]}, "take": {"percent": 25}}]}]}""",
                """{"trigger": {"codes": ["NEWCODE-2027"]}, "rewards": [{"kind": "discount", "on": {"in": [{"category": "tyres"}]}, "take": {"percent": 50}, "per": "unit"}]}""",
                "Its code can be added to “Beside”: on 1 Moor tyre they take 12.50 of 20.00 together, 62.5 %."
            },
            {
                "addsToMarkdown",
                "/rewards/0",
                """{"trigger": {"codes": ["BESIDE-2027"]}, "rewards": [{"kind": "discount", "on": {"in": [{"category": "tyres"}]}, "take": {"percent": 10}, "per": "unit"}]}""",
                """{"rewards": [{"kind": "markdown", "levels": [{"on": {"in": [{"sku": "MOOR"}]}, "take": {"percent": 25}}]}]}""",
                "The code of “Beside” can be added to it: on 1 Moor tyre they take 6.50 of 20.00 together, 32.5 %."
            },
            // Delivery costs 11.00, and of what is paid a quarter is left at the least: from 44.00 on that is enough.
            {
                "deliveryLoses",
                "/rewards/0/take",
                "{}",
                """{"rewards": [{"kind": "shipping", "take": {"percent": 100}}]}""",
                "1 Fell tyre for 40.00 earn 10.00, and 1.00 is missing"
            },
            {
                "neverChosen",
                "/stacking",
                """{"stacking": {"allow": "none"}, "rewards": [{"kind": "discount", "on": {"in": [{"category": "tyres"}]}, "take": {"percent": 30}, "per": "unit"}]}""",
                """{"rewards": [FINE]}""",
                "it takes 1.00 alone, and “Beside” goes before it"
            },
            {
                "pushesOut",
                "/stacking",
                """{"rewards": [FINE]}""",
                """{"stacking": {"allow": "none"}, "rewards": [{"kind": "discount", "on": {"in": [{"category": "tyres"}]}, "take": {"percent": 30}, "per": "unit"}]}""",
                "“Beside” no longer does: on 1 Moor tyre that takes 1.00"
            },
            {
                "takenFromFullPrice",
                "/rewards/0/levels/0",
                """{"rewards": [{"kind": "discount", "on": {"in": [{"category": "tyres"}], "fullPriceOnly": true}, "take": {"percent": 10}, "per": "unit"}]}""",
                """{"rewards": [{"kind": "markdown", "levels": [{"on": {"in": [{"sku": "MOOR"}]}, "take": {"percent": 2}}]}]}""",
                "it loses 1 item of 1"
            },
            {
                "cheapestTaken",
                "/rewards/0/get/take",
                """{"rank": 900, "rewards": [{"kind": "discount", "on": {"in": [{"category": "tyres"}]}, "take": {"percent": 50}, "per": "unit", "pick": "cheapest", "maxUnits": 1}, {"kind": "discount", "on": {"in": [{"sku": "PIN"}]}, "take": {"amount": "0.01"}, "per": "unit"}]}""",
                """{"rewards": [{"kind": "buyGet", "buy": {"of": {"in": [{"category": "tyres"}]}, "quantity": 2}, "get": {"of": {"in": [{"category": "tyres"}]}, "quantity": 1, "take": {"percent": 100}}}]}""",
                "the free unit is then the cheapest there"
            },
        };

    [Theory]
    [MemberData(nameof(ProvokedBeside))]
    public void Is_found_beside_what_is_live(string check, string at, string beside, string promotion, string says)
    {
        var (live, written) = (Written(beside), Written(promotion));
        (live["id"], live["name"], written["id"], written["name"]) = ("beside", "Beside", "new", "N");
        var others = live.ContainsKey("rewards") ? live : null;
        var found = Look(written, others).Where(finding => finding.Check == check).ToArray();
        var told = Assert.Single(found, finding => finding.At == at);
        Assert.Contains(says, told.Sentence);
        if (told.Mend is not { } mend)
            return;
        Change(written, mend.At, mend.Value);
        Assert.DoesNotContain(Look(written, others), finding => finding.Check == check && finding.At == at);
    }

    [Theory]
    // 7 are in the catalogue: what is left of them, and how much of the promise was kept, is what counts.
    [InlineData("\"limits\": {\"total\": 9}, ", 0, null, "It promises 9 of Moor tyre, and 7 are in stock.", 7)]
    [InlineData("\"limits\": {\"total\": 9}, ", 2, null, null, 0)]
    [InlineData("\"limits\": {\"total\": 9}, ", 2, 4, "It still promises 7 of Moor tyre, and 4 are in stock.", 6)]
    [InlineData("\"limits\": {\"total\": 9}, ", 0, 0, "It promises 9 of Moor tyre, and 0 are in stock.", 0)]
    [InlineData("", 3, 5, "5 of Moor tyre are in stock, and nothing bounds how many are given.", 8)]
    public void A_gift_is_held_against_what_is_left_of_it(string limits, int uses, int? left, string? says, int mended)
    {
        var written = Written(
            """{"id": "new", "name": "N", LIMITS"rewards": [{"kind": "gift", "give": {"skus": ["MOOR"]}}]}""".Replace(
                "LIMITS",
                limits,
                StringComparison.Ordinal
            )
        );
        var found = Look(written, around: around =>
                around with
                {
                    Uses = uses,
                    Left = left is { } free ? new Dictionary<string, long> { ["MOOR"] = free } : null,
                }
            )
            .SingleOrDefault(finding => finding.Check == "giftStock");
        Assert.Equal((says, mended), (found?.Sentence, (int)(long)(found?.Mend?.Value ?? 0L)));
        // Of the other there is no end.
        written["rewards"]![0]!["give"]!["skus"]!.AsArray().Add("FELL");
        Assert.DoesNotContain(Look(written), finding => finding.Check == "giftStock");
    }

    [Theory]
    // Said to meet, elsewhere, and at another time.
    [InlineData(
        """{"stacking": {"allow": "except", "with": ["family:season"]}, "rewards": [{"kind": "discount", "on": {"in": [{"sku": "MOOR"}]}, "take": {"percent": 5}, "per": "unit"}]}"""
    )]
    [InlineData("""{"rewards": [{"kind": "discount", "on": {"in": [{"sku": "PIN"}]}, "take": {"amount": "0.01"}, "per": "unit"}]}""")]
    [InlineData("""{"window": {"start": "2027-05-01T00:00", "end": "2027-06-01T00:00"}, "rewards": [FINE]}""")]
    public void What_gets_on_with_others_is_left_in_peace(string beside)
    {
        var live = Written(beside);
        (live["id"], live["name"]) = ("beside", "Beside");
        var written = Written(
            """{"id": "new", "name": "N", "label": "5 % off", "window": {"end": "2027-04-09T00:00"}, "rewards": [FINE]}"""
        );
        Assert.Empty(Look(written, live));
    }

    [Theory]
    [MemberData(nameof(Provoked))]
    public void Is_found_with_its_figures_and_gone_once_mended(string check, string at, string promotion, string says)
    {
        var written = Written(promotion);
        written["id"] = "new";
        var found = Assert.Single(Look(written), finding => finding.Check == check && finding.At == at);
        Assert.Contains(says, found.Sentence);
        if (found.Mend is not { } mend)
            return;
        Change(written, mend.At, mend.Value);
        Assert.DoesNotContain(Look(written), finding => finding.Check == check && finding.At == at && finding.Severity <= found.Severity);
    }

    [Fact]
    public void What_is_in_order_is_left_in_peace()
    {
        Assert.Empty(
            Look(
                Written(
                    """
                    {"id": "new", "name": "N", "label": {"en": "5 % off tyres from €50, until 31 March", "de": "5 % auf Reifen ab 50,00 €, 9.3. bis 31. März"}, "trigger": {"codes": ["AUTUMN-2027"]}, "window": {"start": "2027-03-09T00:00", "end": "2027-04-01T00:00"},
                     "when": {"all": [{"spend": {"from": "50.00"}}, {"spend": {"to": "90.00"}}, {"quantity": {"op": ">", "n": 4}}]}, "rewards": [FINE]}
                    """
                )
            )
        );
        // Only where nothing but money off is given is an end asked for.
        Assert.DoesNotContain(
            Look(
                Written(
                    """{"id": "new", "name": "N", "rewards": [{"kind": "discount", "on": {"in": [{"sku": "MOOR"}]}, "take": {"percent": 40}, "per": "unit"}, {"kind": "points", "fixed": 1}]}"""
                )
            ),
            finding => finding.Check == "noEnd"
        );
        // Itself is no other, and numbered codes are one apart on purpose.
        Assert.Empty(
            Look(
                Written(
                    """{"id": "live", "name": "N", "label": "5 % off", "window": {"start": "2027-03-01T00:00"}, "trigger": {"codes": ["SPRING15", "SPRING16"]}, "rewards": [FINE]}"""
                )
            )
        );
    }

    [Theory]
    [InlineData("amount", "10.01", 20, "2.50", "keeps the floor of 20 %")]
    [InlineData("amount", "2.51", 20, "2.50", "keeps the floor of 20 %")]
    [InlineData("price", "29.00", 20, "37.50", "keeps the floor of 20 %")]
    [InlineData("amount", "10.01", 0, "10.00", "keeps every item above cost")]
    public void The_most_of_an_amount_and_the_least_price(string member, string written, int floor, string most, string words)
    {
        var promotion = Written(
            $$"""{"id": "new", "name": "N", "rewards": [{"kind": "discount", "on": {"in": [{"sku": "FELL"}]}, "take": {"{{member}}": "{{written}}"}, "per": "unit"}]}"""
        );
        var mend = Look(promotion, floor: floor).Single(finding => finding.Check == "belowCost").Mend!;
        Assert.Equal(most, mend.Value);
        Assert.Contains(words, mend.Words);
    }

    [Fact]
    public void Of_delivery_the_cheapest_that_costs_anything_is_the_most() =>
        Assert.Equal(
            "4.90",
            Look(Written("""{"id": "new", "name": "N", "rewards": [{"kind": "shipping", "take": {"percent": 100}}]}"""))
                .Single(finding => finding.Check == "dearDelivery")
                .Mend!.Value
        );

    [Fact]
    public void What_is_sold_together_for_just_its_cost_is_not_sold_below()
    {
        // 40.00 less 20 % is 32.00, and 30.00 is what it costs.
        var beside = Written(
            """{"id": "beside", "name": "Beside", "rank": 60, "rewards": [{"kind": "discount", "on": {"in": [{"sku": "FELL"}]}, "take": {"percent": 20}, "per": "unit"}]}"""
        );
        var written = Written(
            """{"id": "new", "name": "N", "rewards": [{"kind": "discount", "on": {"in": [{"sku": "FELL"}]}, "take": {"amount": "3.00"}, "per": "unit"}]}"""
        );
        Assert.Equal("2.00", Look(written, beside).Single(finding => finding.Check == "belowCostTogether").Mend!.Value);
    }

    [Fact]
    public void Who_sells_below_cost_together_is_named_whole()
    {
        // 40.00 less three times 10 % is 29.16; less twice 10 % 32.40, which is above the cost of 30.00.
        static JsonObject Tenth(string id) =>
            Written(
                $$"""{"id": "{{id}}", "name": "{{id}}", "rewards": [{"kind": "discount", "on": {"in": [{"sku": "FELL"}]}, "take": {"percent": 10}, "per": "unit"}]}"""
            );
        var found = Look(Tenth("new"), Tenth("beside"), more: Tenth("third"))
            .Where(finding => finding.Check == "belowCostTogether")
            .ToArray();
        var told = Assert.Single(found);
        Assert.StartsWith("With “beside” and “third” it sells below cost: 1 Fell tyre for 29.16, a loss of 0.84", told.Sentence);
        Assert.Equal(7m, told.Mend!.Value);
        Assert.DoesNotContain(Look(Tenth("new"), Tenth("beside")), finding => finding.Check == "belowCostTogether");
    }

    [Theory]
    [InlineData(12, 24)]
    [InlineData(7, 37)]
    [InlineData(5, 150)]
    public void What_is_below_cost_from_a_step_on_is_found_however_high_the_step_is(int first, int last)
    {
        // 40.00 less 12 % is 35.20; less 10 % more 31.68, above the cost of 30.00; less 20 % 28.16.
        var volume = Written(
            $$"""
            {"id": "new", "name": "N", "rewards": [{"kind": "ladder", "of": {"in": [{"sku": "FELL"}]}, "measure": "quantity", "apply": "highest", "steps": [
              {"from": {{first}}, "rewards": [{"kind": "discount", "take": {"percent": 10}, "per": "unit"}]},
              {"from": {{last}}, "rewards": [{"kind": "discount", "take": {"percent": 20}, "per": "unit"}]}]}]}
            """
        );
        var trade = Written(
            """{"id": "beside", "name": "Beside", "when": {"all": [{"shopper": {"groups": ["trade"]}}]}, "rewards": [{"kind": "discount", "on": {"in": [{"all": true}]}, "take": {"percent": 12}, "per": "unit"}]}"""
        );
        var (net, loss) = (28.16m * last, 1.84m * last);
        foreach (var (written, beside, name) in new[] { (volume, trade, "Beside"), (trade, volume, "N") })
        {
            var other = beside.DeepClone().AsObject();
            (other["id"], var mine) = ("beside", written.DeepClone().AsObject());
            mine["id"] = "new";
            Assert.StartsWith(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"With “{name}” it sells below cost: {last} Fell tyre for {net:0.00}, a loss of {loss:0.00} for a shopper in trade"
                ),
                Assert.Single(Look(mine, other), finding => finding.Check == "belowCostTogether").Sentence
            );
        }
    }

    [Fact]
    public void A_group_that_nobody_is_in_is_told()
    {
        var written = Written(
            """{"id": "new", "name": "N", "when": {"all": [{"shopper": {"groups": ["trade", "clubb"]}}]}, "rewards": [FINE]}"""
        );
        HashSet<string>? inUse = ["trade", "club"];
        var told = Assert.Single(Look(written, around: Known), finding => finding.Check == "nobodyInGroup");
        Assert.Equal(
            ("/when/all/0/shopper/groups", "No shopper is in clubb at the moment; there are shoppers in club and trade."),
            (told.At, told.Sentence)
        );
        // Where it is not known who there is nothing is said.
        Assert.DoesNotContain(Look(written), finding => finding.Check == "nobodyInGroup");

        Surroundings Known(Surroundings around) => around with { GroupsInUse = () => inUse };
    }

    [Fact]
    public void A_label_that_names_one_currency_is_told_for_the_others()
    {
        var written = Written(
            """{"id": "new", "name": "N", "label": "5.00 off tyres", "rewards": [{"kind": "discount", "on": {"in": [{"category": "tyres"}]}, "take": {"amount": {"EUR": "5.00", "GBP": "4.00"}}, "per": "unit"}]}"""
        );
        Assert.DoesNotContain(Look(written), finding => finding.Check == "labelAmount");
        var told = Assert.Single(Look(written, pounds: true), finding => finding.Check == "labelAmount");
        Assert.Equal("Whoever pays in GBP reads “5.00 off tyres”, and for them it is 4.00 GBP.", told.Sentence);
        written["when"] = JsonNode.Parse("""{"all": [{"currency": ["EUR"]}]}""");
        Assert.DoesNotContain(Look(written, pounds: true), finding => finding.Check == "labelAmount");
    }

    [Theory]
    [InlineData("Ab 1.234,50 €")]
    [InlineData("From £1,234.50, every day")]
    [InlineData("5 % from EUR 1234.5, worth €60")]
    public void Amounts_are_read_as_people_write_them(string label)
    {
        var written = Labelled(label);
        Assert.DoesNotContain(Look(written), finding => finding.Check == "labelAmount");
        written["when"]!["spend"]!["from"] = "1234.60";
        Assert.Contains(Look(written), finding => finding.Check == "labelAmount");
    }

    [Theory]
    [InlineData("TOP 10 of the week")]
    [InlineData("2 Marathon tyres, 3 Junior helmets")]
    [InlineData("SET 2, Mayfly 4")]
    public void What_only_looks_like_an_amount_or_a_day_is_none(string label)
    {
        Assert.DoesNotContain(Look(Labelled(label)), finding => finding.Check is "labelAmount" or "labelDate");
    }

    private static JsonObject Labelled(string label)
    {
        var written = Written("""{"id": "new", "name": "N", "when": {"spend": {"from": "1234.50"}}, "rewards": [FINE]}""");
        written["label"] = label;
        return written;
    }

    [Fact]
    public void What_stands_at_the_floor_is_brought_below_it()
    {
        // A quarter of 40.00 is left over 30.00: that is the floor, and a cent less is below it.
        var written = Written(
            """{"id": "new", "name": "N", "rewards": [{"kind": "discount", "on": {"in": [{"sku": "FELL"}]}, "take": {"amount": "0.01"}, "per": "unit"}]}"""
        );
        Assert.Contains("less than the floor of 25", Look(written, floor: 25).Single(finding => finding.Check == "belowCost").Sentence);
        // What is below it before is not this promotion's doing.
        Assert.DoesNotContain(Look(written, floor: 26), finding => finding.Check == "belowCost");
    }

    [Fact]
    public void The_most_that_keeps_the_floor_is_the_most()
    {
        for (var percent = 7; percent <= 90; percent += 4)
        {
            var written = Written(
                $"{{\"id\": \"new\", \"name\": \"N\", \"rewards\": [{Fine.Replace("5}", $"{percent}}}", StringComparison.Ordinal)}]}}"
            );
            var mend = Look(written).Single(finding => finding.Check == "belowCost").Mend!;
            // By trying: the Fell tyre keeps a fifth of what is paid up to here, and one percent more is too much.
            var most = Enumerable
                .Range(1, percent)
                .Last(tried =>
                    (40m - Math.Round(40m * tried / 100, 2, MidpointRounding.AwayFromZero)) is var paid && (paid - 30) / paid >= 0.2m
                );
            Assert.Equal((decimal)most, mend.Value);
        }
    }

    private static IReadOnlyList<Finding> Look(
        JsonObject written,
        JsonObject? beside = null,
        Func<Surroundings, Surroundings>? around = null,
        int floor = 20,
        JsonObject? more = null,
        bool pounds = false
    )
    {
        var whole = JsonNode.Parse(Shop)!;
        whole["store"]!["marginFloor"] = floor;
        whole["store"]!["families"] = new JsonArray(new JsonObject { ["name"] = "season" });
        if (pounds)
            whole["store"]!["rates"] = new JsonObject { ["GBP"] = "0.85" };
        foreach (var live in new[] { beside, more }.OfType<JsonObject>())
            whole["promotions"]!.AsArray().Add(live.DeepClone());
        var shop = CaseReader.Read(Encoding.UTF8.GetBytes(whole.ToJsonString())).Value!;
        var read = CaseReader.ReadPromotion(Encoding.UTF8.GetBytes(written.ToJsonString()), shop.Index, new HashSet<string> { "beside" });
        Assert.Empty(read.Problems);
        var surroundings = new Surroundings(
            shop.Index,
            Rulebook.Compile(shop.Index, shop.Promotions),
            new Wording(shop.Index, shop.Store.Currency),
            shop.Cart.At,
            shop.Cart
        );
        return Review.Of(read.Value!, around?.Invoke(surroundings) ?? surroundings);
    }

    private static JsonObject Written(string promotion) =>
        JsonNode.Parse(promotion.Replace("FINE", Fine, StringComparison.Ordinal))!.AsObject();

    private static void Change(JsonNode document, string at, object? value)
    {
        var steps = at.Split('/')[1..];
        var inside = document;
        foreach (var step in steps[..^1])
        {
            if (inside is JsonArray list)
                inside = list[int.Parse(step, System.Globalization.CultureInfo.InvariantCulture)]!;
            else
                inside = inside[step] ??= new JsonObject();
        }

        if (value is null)
            inside.AsObject().Remove(steps[^1]);
        else
            inside[steps[^1]] = System.Text.Json.JsonSerializer.SerializeToNode(value);
    }
}
