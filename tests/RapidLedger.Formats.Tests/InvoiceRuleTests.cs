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
            var lines = root.GetProperty("lines").EnumerateArray().Select(line => (
                Class: line.GetProperty("sku").GetString()![..1],
                Net: Amount(line, "goods") - line.GetProperty("parts").EnumerateArray().Sum(part => Amount(part, "amount")))).ToArray();
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
            Assert.All(root.GetProperty("taxes").EnumerateArray(), entry => Assert.Equal(byClass[entry.GetProperty("class").GetString()![..1].ToUpperInvariant()], Amount(entry, "base")));
        }
    }

    private static decimal Amount(JsonElement of, string name) => decimal.Parse(of.GetProperty(name).GetString()!, CultureInfo.InvariantCulture);

    private static string Case(Random random) => $$$$"""
        {"store": {"currency": "EUR", "shipping": [{"id": "parcel", "price": "4.90"}],
           "tax": {"mode": "exclusive", "shippingClass": "standard", "rates": [{"class": "standard", "place": "DE", "percent": 19}, {"class": "reduced", "place": "DE", "percent": 7}]}},
         "catalogue": {"products": [{"id": "s", "name": "S", "taxClass": "standard", "variants": [{"sku": "S1", "regular": "{{{{random.Next(1, 90)}}}}.{{{{random.Next(10, 99)}}}}"}]}, {"id": "r", "name": "R", "taxClass": "reduced", "variants": [{"sku": "R1", "regular": "{{{{random.Next(1, 30)}}}}.{{{{random.Next(10, 99)}}}}"}]}]},
         "promotions": [
           {"id": "a", "rewards": [{"kind": "discount", "on": {"in": [{"sku": "R1"}]}, "take": {"percent": {{{{random.Next(1, 60)}}}}}, "per": "unit"}]},
           {"id": "b", "rewards": [{"kind": "discount", "on": {"in": [{"all": true}]}, "take": {"amount": "{{{{random.Next(0, 9)}}}}.{{{{random.Next(10, 99)}}}}"}, "per": "cart"}]},
           {"id": "c", "when": {"quantity": {"op": ">=", "n": 4}}, "rewards": [{"kind": "shipping", "take": {"percent": 50}}]},
           {"id": "d", "rewards": [{"kind": "credit", "amount": "3.00", "keepRest": true}]}],
         "cart": {"at": "2027-03-05T10:00:00Z", "destination": "DE", "method": "parcel", "lines": [{"sku": "S1", "quantity": {{{{random.Next(1, 5)}}}}}, {"sku": "R1", "quantity": {{{{random.Next(1, 4)}}}}}]}}
        """;
}
