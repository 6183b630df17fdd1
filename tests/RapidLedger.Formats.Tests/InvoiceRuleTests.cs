using System.Globalization;
using System.Text;
using System.Text.Json;

namespace RapidLedger.Formats.Tests;

/// <summary>Totals and tax against the calculation rules of EN 16931-1, section 6.4.2, with prices without tax.</summary>
public class InvoiceRuleTests
{
    [Fact]
    public void Totals_and_tax_follow_the_rules_of_en_16931()
    {
        var random = new Random(16931);
        for (var number = 0; number < 300; number++)
        {
            using var result = JsonDocument.Parse(ResultWriter.Write(CaseReader.Read(Encoding.UTF8.GetBytes(Case(random)))));
            var root = result.RootElement;
            var totals = root.GetProperty("totals");
            decimal Of(string name) => decimal.Parse(totals.GetProperty(name).GetString()!, CultureInfo.InvariantCulture);

            // BT-131, line net amounts: goods less the line's allowances (BG-27), which here are the parts of every promotion.
            var lines = root.GetProperty("lines")
                .EnumerateArray()
                .Select(line =>
                    (
                        Class: line.GetProperty("sku").GetString()![..1],
                        Net: Amount(line, "goods") - line.GetProperty("parts").EnumerateArray().Sum(part => Amount(part, "amount"))
                    )
                )
                .ToArray();
            // BR-CO-10: the sum of line net amounts. BR-CO-12: charges at document level: delivery less what was taken off it.
            var (sum, charge) = (lines.Sum(line => line.Net), Of("shipping") - Of("shippingDiscount"));
            // BR-CO-13: the total without tax.
            var withoutTax = sum + charge;
            // BR-S-08 and BR-CO-17: by category, taxable amount and tax, rounded to two decimals; BR-CO-14: the sum.
            var byClass = lines.GroupBy(line => line.Class).ToDictionary(group => group.Key, group => group.Sum(line => line.Net));
            byClass["S"] = byClass.GetValueOrDefault("S") + charge;
            var tax = byClass.Sum(entry => Math.Round(entry.Value * (entry.Key == "S" ? 0.19m : 0.07m), 2, MidpointRounding.AwayFromZero));
            // BR-CO-15: the total with tax. BR-CO-16: what is due.
            Assert.Equal((sum, tax, withoutTax + tax), (Of("net"), Of("tax"), Of("total")));
            Assert.Equal(withoutTax + tax - Of("credit"), Of("due"));
            Assert.All(root.GetProperty("taxes").EnumerateArray(), entry =>
                Assert.Equal(byClass[entry.GetProperty("class").GetString()![..1].ToUpperInvariant()], Amount(entry, "base"))
            );
        }
    }

    /// <summary>
    /// With tax in the prices an invoice is written from the amounts without it: by category the taxable amount is what the lines come to,
    /// less
    /// the tax in it. Source: EN 16931-1, BG-23, BR-S-08, BR-S-09, BR-CO-14 and BR-CO-15; a gift is a line of its value with an allowance
    /// of all of it (BG-27).
    /// </summary>
    [Fact]
    public void Tax_in_the_prices_and_gifts_make_an_invoice_of_en_16931()
    {
        var random = new Random(931);
        var odd = 0;
        for (var number = 0; number < 400; number++)
        {
            using var result = JsonDocument.Parse(
                ResultWriter.Write(
                    CaseReader.Read(
                        Encoding.UTF8.GetBytes(
                            Case(
                                random,
                                "inclusive",
                                """
                                ,{"id": "e", "when": {"quantity": {"op": ">=", "n": 3}}, "rewards": [{"kind": "gift", "give": {"skus": ["R1"]}}]}
                                """
                            )
                        )
                    )
                )
            );
            var root = result.RootElement;
            decimal Of(string name) =>
                decimal.Parse(root.GetProperty("totals").GetProperty(name).GetString()!, CultureInfo.InvariantCulture);
            var gifts = root.GetProperty("gifts").EnumerateArray().ToArray();
            // A gift's line: its value less an allowance of it; net of the invoice nothing.
            Assert.All(gifts, gift => Assert.Equal((0m, true), (Amount(gift, "net"), Amount(gift, "value") > 0)));
            var byClass = root.GetProperty("lines")
                .EnumerateArray()
                .GroupBy(line => line.GetProperty("sku").GetString()![..1])
                .ToDictionary(
                    group => group.Key,
                    group =>
                        group.Sum(line =>
                            Amount(line, "goods") - line.GetProperty("parts").EnumerateArray().Sum(part => Amount(part, "amount"))
                        )
                );
            byClass["S"] = byClass.GetValueOrDefault("S") + Of("shipping") - Of("shippingDiscount");
            foreach (var gift in gifts)
                byClass["R"] = byClass.GetValueOrDefault("R") + Amount(gift, "net");
            var (taxable, taxes) = (0m, 0m);
            foreach (var entry in root.GetProperty("taxes").EnumerateArray())
            {
                var gross = byClass[entry.GetProperty("class").GetString()![..1].ToUpperInvariant()];
                var (rate, tax) = (entry.GetProperty("percent").GetDecimal() / 100, Amount(entry, "tax"));
                // Both from the one amount with tax: what is taxable and its tax come to it, and the tax is the rate's share of it to
                // within the cent
                // that rounding backwards costs.
                Assert.Equal(gross, Amount(entry, "base"));
                Assert.Equal(Math.Round(gross * rate / (1 + rate), 2, MidpointRounding.AwayFromZero), tax);
                var forward = Math.Round((gross - tax) * rate, 2, MidpointRounding.AwayFromZero);
                Assert.True(Math.Abs(forward - tax) <= 0.01m);
                if (forward != tax)
                    odd++;
                taxable += gross - tax;
                taxes += tax;
            }

            // BR-CO-14, BR-CO-15: the sum of the taxes, and with it the total.
            Assert.Equal((taxes, taxable + taxes), (Of("tax"), Of("total")));
        }

        // Of all amounts with 19 % in them 19 of 119 are no whole cents and their tax, with 7 % 7 of 107: about one in nine.
        Assert.InRange(odd, 1, 800 * 19 / 119);
    }

    private static decimal Amount(JsonElement of, string name) =>
        decimal.Parse(of.GetProperty(name).GetString()!, CultureInfo.InvariantCulture);

    private static string Case(Random random, string mode = "exclusive", string more = "") =>
        $$$$"""
            {"store": {"currency": "EUR", "shipping": [{"id": "parcel", "price": "4.90"}],
               "tax": {"mode": "{{{{mode}}}}", "shippingClass": "standard", "rates": [{"class": "standard", "place": "DE", "percent": 19}, {"class": "reduced", "place": "DE", "percent": 7}]}},
             "catalogue": {"products": [{"id": "s", "name": "S", "taxClass": "standard", "variants": [{"sku": "S1", "regular": "{{{{random.Next(
                1,
                90
            )}}}}.{{{{random.Next(
                10,
                99
            )}}}}"}]}, {"id": "r", "name": "R", "taxClass": "reduced", "variants": [{"sku": "R1", "regular": "{{{{random.Next(
                1,
                30
            )}}}}.{{{{random.Next(10, 99)}}}}"}]}]},
             "promotions": [
               {"id": "a", "rewards": [{"kind": "discount", "on": {"in": [{"sku": "R1"}]}, "take": {"percent": {{{{random.Next(
                1,
                60
            )}}}}}, "per": "unit"}]},
               {"id": "b", "rewards": [{"kind": "discount", "on": {"in": [{"all": true}]}, "take": {"amount": "{{{{random.Next(
                0,
                9
            )}}}}.{{{{random.Next(10, 99)}}}}"}, "per": "cart"}]},
               {"id": "c", "when": {"quantity": {"op": ">=", "n": 4}}, "rewards": [{"kind": "shipping", "take": {"percent": 50}}]},
               {"id": "d", "rewards": [{"kind": "credit", "amount": "3.00", "keepRest": true}]}{{{{more}}}}],
             "cart": {"at": "2027-03-05T10:00:00Z", "destination": "DE", "method": "parcel", "lines": [{"sku": "S1", "quantity": {{{{random.Next(
                1,
                5
            )}}}}}, {"sku": "R1", "quantity": {{{{random.Next(1, 4)}}}}}]}}
            """;
}
