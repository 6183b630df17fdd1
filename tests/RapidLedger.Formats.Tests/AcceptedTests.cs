using System.Globalization;
using System.Text;
using System.Text.Json;
using CsCheck;
using RapidLedger.Pricing;

namespace RapidLedger.Formats.Tests;

/// <summary>
/// Whatever a reader lets in can be priced, explained, said in words and exported, at odd moments and with odd carts: documents put
/// together
/// from sound and from strange parts.
/// </summary>
public class AcceptedTests
{
    private static readonly string[] Amounts =
    [
        "\"0\"",
        "\"0.01\"",
        "\"7.50\"",
        "\"49.99\"",
        "\"10000000000.00\"",
        "{\"EUR\": \"5\", \"JPY\": \"1\"}",
        "{\"JPY\": \"800\", \"KWD\": \"0.001\", \"EUR\": \"0.03\"}",
        "{\"JPY\": \"3\"}",
    ];
    private static readonly string[] Percents = ["0", "0.0001", "33.3333", "100", "1e1", "5.0"];
    private static readonly string[] Counts = ["1", "2", "3.0", "7", "1000000", "1000000000000"];
    private static readonly string[] Terms =
    [
        "{\"all\": true}",
        "{\"category\": \"c\"}",
        "{\"category\": \"d\"}",
        "{\"brand\": \"None has it\"}",
        "{\"product\": \"p\"}",
        "{\"sku\": \"A\"}",
        "{\"sku\": \"Z\"}",
        "{\"tag\": \"t\"}",
    ];
    private static readonly string[] Moments =
    [
        "1970-01-01T00:00:00Z",
        "2027-03-28T01:30:00+01:00",
        "2027-10-31T02:30:00+02:00",
        "2199-12-31T23:59:59-12:00",
        "2028-02-29T12:00:00Z",
        "2027-05-14T10:00:00+02:00",
    ];
    private static readonly string[] Places = ["DE", "EH", "XK", "ES-CN", "AQ", "FR-20R", "UM", "GB-EAW"];
    private static readonly string[] Currencies = ["EUR", "JPY", "KWD"];

    [Fact]
    public void Whatever_is_let_in_is_priced_explained_and_said()
    {
        var (accepted, refused) = (0, 0);
        Gen.ULong.Sample(
            seed =>
            {
                var json = new Writer(new Random((int)(seed ^ (seed >> 32)))).Case();
                var reading = CaseReader.Read(Encoding.UTF8.GetBytes(json));
                if (reading.Value is not { } read)
                {
                    Assert.NotEmpty(reading.Problems);
                    Assert.All(reading.Problems, problem => Assert.True(problem.Message.Length > 10 && problem.At.Length > 0));
                    Interlocked.Increment(ref refused);
                    return;
                }

                Interlocked.Increment(ref accepted);
                AssertUsable(read, json);
            },
            iter: 2_000
        );
        Assert.True(accepted > refused / 2, $"{accepted} accepted, {refused} refused");
    }

    private static void AssertUsable(Case read, string json)
    {
        var priced = read.Price();
        Assert.DoesNotContain(priced.Outcomes, outcome => outcome.Reason is Reason.Failed);
        var totals = priced.Totals;
        Assert.All(
            [
                totals.Regular,
                totals.Goods,
                totals.Discount,
                totals.Net,
                totals.GiftValue,
                totals.Shipping,
                totals.Tax,
                totals.Total,
                totals.Credit,
                totals.Due,
                totals.Saving,
                totals.Points,
            ],
            sum => Assert.InRange(sum, 0, 3 * Magnitudes.Most)
        );
        Assert.Equal(totals.Goods - totals.Discount + priced.Gifts.Sum(gift => gift.Net), totals.Net);
        using var written = JsonDocument.Parse(ResultWriter.Write(priced));
        Assert.True(written.RootElement.TryGetProperty("nudges", out _), json);
        foreach (var culture in (CultureInfo?[])[null, CultureInfo.GetCultureInfo("en-GB"), CultureInfo.GetCultureInfo("de-DE")])
        {
            var wording = new Wording(priced.Catalogue, priced.Currency, culture);
            foreach (var outcome in priced.Outcomes)
            {
                if (outcome.Reason is { } reason)
                {
                    Assert.EndsWith(".", wording.Say(reason, read.Cart.At));
                    Assert.EndsWith(".", wording.Tell(reason));
                }

                Remedy.For(outcome, priced);
            }

            foreach (var nudge in priced.Nudges)
            {
                Assert.EndsWith(".", wording.Say(nudge));
                Assert.False(string.IsNullOrWhiteSpace(wording.Tell(nudge)));
            }
        }

        AssertTellable(priced, json);
        foreach (var promotion in read.Promotions)
        {
            Assert.Equal(promotion.Says is null ? 7 : 8, Sentence.Clauses(promotion, new(priced.Catalogue, read.Store.Currency)).Count);
            Assert.NotNull(new JsonLogic(priced.Catalogue, priced.Currency).Rule(promotion.When));
            // The same promotion as the shop reads it, with any cart beside it.
            promotion.Window?.In(read.Store.Zone);
            // Looked at twice without anything going wrong.
            var findings = Review.Of(
                promotion,
                new(
                    priced.Catalogue,
                    Rulebook.Compile(priced.Catalogue, read.Promotions),
                    new(priced.Catalogue, read.Store.Currency),
                    read.Cart.At
                )
            );
            // Each can be told from the others by what names it.
            Assert.Empty(
                findings
                    .GroupBy(finding => (finding.Check, finding.At, finding.Other))
                    .Where(same => same.Count() > 1)
                    .SelectMany(same => same)
                    .Select(finding => $"{finding}")
            );
            Assert.DoesNotContain(findings, finding => finding.Sentence.Contains("could not be looked at", StringComparison.Ordinal));
            AssertDrawable(promotion, read, priced);
        }
    }

    // A shop can be told of it, in every language, without what is the merchant's own; and an order can be placed with it.
    private static void AssertTellable(PricedCart priced, string json)
    {
        foreach (var language in Wording.Languages)
        {
            var wording = new Wording(priced.Catalogue, priced.Currency).InLanguage(language);
            var told = StoreResult.Of(priced, wording);
            foreach (var name in (string[])["message", "reason", "blockedBy", "cost", "margin", "contribution"])
                Assert.DoesNotContain($"\"{name}\":", told.ToJsonString());
            Assert.All(told["codes"]!.AsArray().Concat(told["promotions"]!.AsArray()).Concat(told["nudges"]!.AsArray()), entry =>
                Assert.NotEmpty((string)entry!["shopper"]!)
            );
            Assert.All(told["progress"]!.AsArray().SelectMany(progress => progress!["steps"]!.AsArray()), step =>
                Assert.NotEmpty((string)step!["shopper"]!)
            );
            Assert.All(told["nudges"]!.AsArray(), nudge =>
                Assert.True(
                    priced.Nudges.Single(own => own.Promotion.Id == (string)nudge!["promotion"]!).Promotion.Trigger
                        is null
                            or { IsAutomatic: true }
                )
            );
        }

        Assert.Equal(priced.Applied.Count, StoreResult.Shown(priced)["promotions"]!.AsArray().Count);
        var used = priced.UsesUp();
        Assert.All(used.Promotions, use => Assert.True(use.Amount >= 0 && use.Drawn >= 0, json));
        Assert.Equal(
            priced.Lines.Sum(line => (long)line.Quantity) + priced.Gifts.Sum(gift => gift.Quantity),
            used.Units.Sum(unit => unit.Units)
        );
        Assert.True(used.Codes.Select(code => code.Bare).Distinct().Count() == used.Codes.Count, json);
    }

    // Its curve can be drawn, and what it says be shown, as it is written.
    private static void AssertDrawable(Promotion promotion, Case read, PricedCart priced)
    {
        if (priced.Totals.Goods > 1_000_000_000 || promotion.State != State.Live)
            return;
        var opened = Rulebook.Compile(priced.Catalogue, [promotion.AsIfOpen()]);
        var wording = new Wording(priced.Catalogue, priced.Currency);
        var cart = read.Cart with { Lines = [new("Z", 1)] };
        var curve = PriceCurve.Of(opened, Rulebook.Compile(priced.Catalogue, []), cart, "Z", 4, wording);
        Assert.All(curve.Points, point => Assert.True(point.After >= 0 && point.Before >= 0));
        Assert.All(curve.Marks, mark => Assert.NotEmpty(mark.Sentence));
        foreach (var language in Wording.Languages)
            Assert.All(SaysPreview.Of(opened, promotion, cart with { Language = language }, "Z", wording).Take(6), said =>
                Assert.NotEmpty(said.Sentence)
            );
    }

    private sealed class Writer(Random random)
    {
        public string Case()
        {
            var parts = new Dictionary<string, string>
            {
                ["zone"] = One("Europe/Berlin", "UTC", "Pacific/Apia", "America/New_York"),
                ["policy"] = One("best", "rank"),
                ["yen"] = One("160", "0.0000000001", "999999999999"),
                ["mode"] = One("inclusive", "exclusive", "none"),
                ["grams"] = One("0", "140", "1000000"),
                ["stock"] = One("0", "3", "1000000"),
                ["at"] = One(Moments),
                ["currency"] = One(Currencies),
                ["goes"] = random.Next(3) > 0 ? $"\"destination\": \"{One(Places)}\", \"method\": \"m\"," : "",
                ["buyer"] =
                    random.Next(3) > 0 ? "\"shopper\": {\"id\": \"s\", \"groups\": [\"g\"], \"orders\": 2, \"spent\": \"10\"}," : "",
                ["lines"] = string.Join(
                    ", ",
                    Enumerable
                        .Range(0, random.Next(4))
                        .Select(_ => $"{{\"sku\": \"{One("A", "B", "Z")}\", \"quantity\": {One("1", "2", "5", "40", "1000000")}}}")
                ),
                ["promotions"] = string.Join(",\n", Enumerable.Range(0, random.Next(1, 4)).Select(Promotion)),
                ["codes"] = string.Join(
                    ", ",
                    Enumerable.Range(0, random.Next(4)).Select(_ => $"\"{One("x", "B-1", "b 1", "b2", "never", "c3", "\\u0001", "")}\"")
                ),
                ["each"] = One("1", "\"any\"", "7", "1000000000000"),
                ["day"] = One("2027-05-14", "1970-01-01", "2199-12-31", "2027-03-28"),
                ["language"] = One("de", "de-AT", "en", "x-klingon", "fr-CA-variant1"),
            };
            var json = """
                {"store": {"currency": "EUR", "timeZone": "<zone>", "policy": "<policy>", "rates": {"JPY": "<yen>", "KWD": "0.00004"},
                  "shipping": [{"id": "m", "places": {"in": ["DE", "EH"]}, "bands": [{"toGrams": 500, "price": "4.90"}, {"price": <amount>}], "cost": "3.00"}],
                  "tax": {"mode": "<mode>", "shippingClass": "s", "rates": [{"class": "s", "place": "DE", "percent": 19}, {"class": "s", "place": "EH", "percent": 0.0001}]}},
                 "catalogue": {"categories": [{"id": "c", "name": "C"}, {"id": "d", "name": "D", "parent": "c"}],
                  "products": [{"id": "p", "name": "P", "category": "d", "tags": ["t"], "taxClass": "s", "variants": [{"sku": "A", "regular": <amount>, "cost": <amount>, "grams": <grams>, "stock": <stock>}, {"sku": "B", "regular": <amount>}]},
                   {"id": "q", "name": "Q", "variants": [{"sku": "Z", "regular": "9.99"}]}]},
                 "promotions": [<promotions>],
                 "batches": {"b": {"usesEach": <each>, "lastDay": "<day>", "codes": {"B-1": {}, "B-2": {"used": 1}, "C3": {"void": true}}}},
                 "cart": {"at": "<at>", "currency": "<currency>", "language": "<language>", "codes": [<codes>], <goes> <buyer>
                  "picks": {"p0": ["Z", "A", "Z"]}, "lines": [<lines>]}}
                """;
            foreach (var (name, value) in parts)
                json = json.Replace($"<{name}>", value, StringComparison.Ordinal);
            while (json.IndexOf("<amount>", StringComparison.Ordinal) is >= 0 and var at)
                json = string.Concat(json.AsSpan(0, at), Amount(), json.AsSpan(at + 8));
            return json;
        }

        private string Promotion(int number)
        {
            List<string> members = [$"\"id\": \"p{number}\"", $"\"rewards\": [{Reward()}{(random.Next(4) == 0 ? ", " + Reward() : "")}]"];
            if (random.Next(4) == 0)
                members.Add(
                    $"\"trigger\": {One("{\"codes\": [\"X\"]}", "{\"codes\": [\"never\"]}", number == 0 ? "{\"batches\": [\"b\"]}" : "{\"automatic\": true}", number == 0 ? "{\"codes\": [\"Y\"], \"batches\": [\"b\"]}" : "{\"codes\": [\"Y\"]}", "{\"automatic\": true}")}"
                );
            if (random.Next(4) == 0)
                members.Add($"\"label\": {One("\"Ten\"", "{\"de\": \"Zehn\"}", "{\"en\": \"Ten\", \"de-AT\": \"Zehne\"}")}");
            if (random.Next(4) == 0)
                members.Add(
                    $"\"says\": {{\"near\": {One("\"{missing} to {label}\"", "{\"de\": \"Noch {missing}, {saved}, {ends}\"}", "\"\"")}, \"reached\": {One("\"{saved}{reward}\"", "\"{missing}\"")}, \"refused\": \"{{label}}\", \"show\": [{One("\"today\"", "\"item\", \"basket\"", "")}]}}"
                );
            if (random.Next(2) == 0)
                members.Add($"\"when\": {Condition(0)}");
            if (random.Next(3) == 0)
                members.Add($"\"window\": {Window()}");
            if (random.Next(5) == 0)
                members.Add($"\"limits\": {One("{\"total\": 0}", "{\"perShopper\": 3, \"perDay\": 1}", "{\"budget\": \"0.01\"}")}");
            if (random.Next(4) == 0)
                members.Add(
                    $"\"stacking\": {One("{\"allow\": \"none\"}", "{\"allow\": \"only\", \"with\": [\"pass:item\"]}", "{\"allow\": \"except\", \"with\": [\"promotion:p0\", \"pass:credit\"]}")}"
                );
            return $"{{{string.Join(", ", members)}}}";
        }

        private string Window() =>
            One(
                "{\"start\": \"2027-03-28T02:30\"}",
                "{\"end\": \"2027-10-31T02:30\", \"graceMinutes\": 1440}",
                "{\"start\": \"1970-01-01T00:00\", \"end\": \"2199-12-31T23:59\"}",
                "{\"start\": \"2027-05-07T17:00\", \"repeat\": \"FREQ=WEEKLY\", \"lasts\": \"PT5H\", \"graceMinutes\": 5}",
                "{\"start\": \"1970-01-01T00:00\", \"repeat\": \"FREQ=HOURLY\", \"lasts\": \"P100000D\"}",
                "{\"start\": \"1972-02-29T00:00\", \"repeat\": \"FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=29\", \"lasts\": \"PT1S\"}",
                "{\"start\": \"2027-10-31T02:30\", \"repeat\": \"FREQ=YEARLY;BYMONTH=10;BYDAY=-1SU\", \"lasts\": \"P1DT1H\", \"end\": \"2030-01-01T00:00\"}",
                "{\"start\": \"2027-05-14T00:00\", \"repeat\": \"FREQ=DAILY;UNTIL=20270514T080000Z\", \"lasts\": \"PT12H\"}",
                "{\"start\": \"2027-01-01T00:00\", \"repeat\": \"FREQ=MONTHLY;BYMONTHDAY=31;BYMONTH=4\", \"lasts\": \"P1D\"}"
            );

        private string Condition(int depth) =>
            random.Next(depth > 2 ? 9 : 12) switch
            {
                0 => $"{{\"spend\": {{\"of\": {Selection()}, \"from\": {Amount()}, \"to\": {Amount()}}}}}",
                1 => $"{{\"spend\": {{\"from\": {Amount()}, \"basis\": \"{One("before", "after")}\"}}}}",
                2 => $"{{\"quantity\": {{\"of\": {Selection()}, \"op\": \"{Op()}\", \"n\": {One("0", "1", "5", "1000000000000")}}}}}",
                3 => $"{{\"distinct\": {{\"op\": \"{Op()}\", \"n\": {One("0", "1", "2", "9")}}}}}",
                4 => $"{{\"only\": {Selection()}}}",
                5 => $"{{\"weight\": {{\"op\": \"{Op()}\", \"grams\": {One("0", "140", "1000000000000")}}}}}",
                6 => $"{{\"destination\": {{\"in\": [\"{One(Places)}\", \"{One(Places)}\"], \"out\": [\"{One(Places)}\"]}}}}",
                7 =>
                    $"{{\"shopper\": {One("{\"is\": \"guest\"}", "{\"groups\": [\"g\"]}", "{\"ids\": [\"s\"]}", "{\"orders\": {\"op\": \"!=\", \"n\": 2}}", "{\"spent\": {\"from\": \"10\", \"to\": \"0\"}}")}}}",
                8 => One("{\"channel\": [\"web\"]}", "{\"currency\": [\"JPY\", \"USD\"]}", "{\"method\": [\"m\"]}"),
                9 => $"{{\"all\": [{Condition(depth + 1)}, {Condition(depth + 1)}]}}",
                10 => $"{{\"any\": [{(random.Next(4) == 0 ? "" : Condition(depth + 1))}]}}",
                _ => $"{{\"none\": [{Condition(depth + 1)}]}}",
            };

        private string Reward() =>
            random.Next(11) switch
            {
                0 =>
                    $"{{\"kind\": \"discount\", \"on\": {Selection()}, \"take\": {Take()}, \"per\": \"unit\", \"maxUnits\": {One("1", "1000000")}, \"maxDiscount\": {Amount()}}}",
                1 =>
                    $"{{\"kind\": \"discount\", \"on\": {Selection()}, \"take\": {One($"{{\"percent\": {Percent()}}}", $"{{\"amount\": {Amount()}}}")}, \"per\": \"cart\"}}",
                2 =>
                    $"{{\"kind\": \"buyGet\", \"buy\": {{\"of\": {Selection()}, \"quantity\": {One("1", "2", "1000000")}}}, \"get\": {{\"of\": {Selection()}, \"quantity\": {One("1", "3")}, \"take\": {Take()}}}, \"repeat\": \"{One("once", "every")}\"}}",
                3 =>
                    $"{{\"kind\": \"buyGet\", \"buy\": {{\"of\": {Selection()}, \"spend\": {Amount()}}}, \"get\": {{\"of\": {Selection()}, \"quantity\": 1, \"take\": {Take()}}}, \"repeat\": {{\"atMost\": {One(Counts)}}}}}",
                4 =>
                    $"{{\"kind\": \"ladder\", \"measure\": \"spend\", \"of\": {Selection()}, \"apply\": \"{One("highest", "all")}\", \"steps\": [{{\"from\": {One("\"0\"", "\"0.01\"")}, \"rewards\": [{{\"kind\": \"shipping\", \"take\": {Take()}}}]}}, {{\"from\": {One("\"1\"", "\"50.00\"", "{\"EUR\": \"9\", \"JPY\": \"2\"}")}, \"rewards\": [{{\"kind\": \"points\", \"fixed\": {One(Counts)}}}]}}]}}",
                5 =>
                    $"{{\"kind\": \"ladder\", \"measure\": \"quantity\", \"of\": {Selection()}, \"apply\": \"beyond\", \"steps\": [{{\"from\": {One("1", "2")}, \"rewards\": [{{\"kind\": \"discount\", \"take\": {Take()}, \"per\": \"unit\"}}]}}]}}",
                6 =>
                    $"{{\"kind\": \"bundle\", \"slots\": [{{\"of\": {Selection()}, \"quantity\": {One("1", "2", "1000000")}}}, {{\"of\": {Selection()}, \"quantity\": 1}}], \"take\": {Take()}, \"repeat\": \"{One("once", "every")}\", \"fill\": \"{One("dearest", "cheapest")}\"}}",
                7 =>
                    $"{{\"kind\": \"gift\", \"give\": {One("{\"skus\": [\"Z\"]}", "{\"skus\": [\"Z\", \"A\"]}", $"{{\"sameAs\": {Selection()}}}")}, \"quantity\": {One("1", "2", "1000000")}}}",
                8 =>
                    $"{{\"kind\": \"gift\", \"give\": {{\"skus\": [\"A\", \"Z\"]}}, \"times\": {{\"per\": {{\"of\": {Selection()}, \"spend\": {Amount()}}}}}, \"atMost\": {One(Counts)}, \"take\": {Take()}}}",
                9 => $"{{\"kind\": \"points\", \"each\": {Amount()}, \"points\": {One("1", "1000000")}}}",
                _ => One(
                    $"{{\"kind\": \"markdown\", \"levels\": [{{\"on\": {Selection()}, \"take\": {Take()}}}]}}",
                    $"{{\"kind\": \"credit\", \"amount\": {Amount()}, \"keepRest\": true}}",
                    $"{{\"kind\": \"shipping\", \"methods\": [\"m\"], \"take\": {Take()}, \"maxDiscount\": {Amount()}}}"
                ),
            };

        private string Selection() =>
            $"{{\"in\": [{One(Terms)}]{(random.Next(3) == 0 ? $", \"out\": [{One(Terms)}]" : "")}{(random.Next(6) == 0 ? ", \"fullPriceOnly\": true" : "")}{(random.Next(6) == 0 ? $", \"priceFrom\": {Amount()}" : "")}}}";

        private string Take() => One($"{{\"percent\": {Percent()}}}", $"{{\"amount\": {Amount()}}}", $"{{\"price\": {Amount()}}}");

        private string Op() => One(">=", ">", "=", "!=", "<", "<=");

        private string Amount() => One(Amounts);

        private string Percent() => One(Percents);

        // As a rule one of the first, which are the less strange.
        private string One(params string[] of) => of[Math.Min(random.Next(of.Length), random.Next(of.Length))];
    }
}
