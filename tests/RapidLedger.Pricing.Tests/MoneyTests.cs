using System.Diagnostics;
using System.Globalization;
using System.Numerics;
using System.Text.Json;
using CsCheck;

namespace RapidLedger.Pricing.Tests;

/// <summary>Money against published rules and general-purpose libraries.</summary>
public class MoneyTests
{
    // dinero.js, a money library from npm (MIT), run by Node: its currencies follow ISO 4217, its allocate spreads an amount.
    private const string Dinero = """
        import { allocate, dinero, toSnapshot } from 'dinero.js';
        import * as currencies from 'dinero.js/currencies';
        const asked = JSON.parse(await new Response(process.stdin).text());
        console.log(JSON.stringify({
          exponents: Object.fromEntries(Object.values(currencies).map((currency) => [currency.code, currency.exponent])),
          shares: asked.map(([amount, ratios]) => allocate(dinero({ amount, currency: currencies.EUR }), ratios).map((share) => toSnapshot(share).amount)),
        }));
        """;

    [Fact]
    public void Converted_there_and_back_is_what_fractions_come_to_however_large() =>
        Gen.Select(Gen.Long[1, 999_999_999_999], Gen.Int[0, 10], Gen.Long[0, Currency.Greatest])
            .Sample(
                (mantissa, decimals, minor) =>
                {
                    var (euro, yen, rate) = (Currency.Find("EUR")!, Currency.Find("JPY")!, new Rate(mantissa, decimals));
                    var ten = BigInteger.Pow(10, decimals);
                    Assert.Equal(Rounded((BigInteger)minor * mantissa, ten * 100), rate.Convert(minor, euro, yen, Rounding.HalfUp));
                    Assert.Equal(Rounded((BigInteger)minor * ten * 100, mantissa), rate.ToBase(minor, euro, yen, Rounding.HalfUp));

                    static long Rounded(BigInteger dividend, BigInteger divisor) =>
                        dividend / divisor >= Rate.TooMuch ? Rate.TooMuch : (long)(((2 * dividend) + divisor) / (2 * divisor));
                }
            );

    [Fact]
    public void Exponents_are_those_of_iso_4217()
    {
        // Source: ISO 4217, as dinero.js publishes it. Left out there or here: what circulates no more, and fund codes.
        var published = Ask([])
            .GetProperty("exponents")
            .EnumerateObject()
            .ToDictionary(entry => entry.Name, entry => entry.Value.GetInt32());
        var shared = Currency.All.Where(currency => published.ContainsKey(currency.Code)).ToArray();
        Assert.True(shared.Length > 140);
        // dinero.js counts the Malagasy ariary and the Mauritanian ouguiya in fifths; ISO 4217 gives both two decimals.
        Assert.All(shared.Where(currency => currency.Code is not ("MGA" or "MRU")), currency =>
            Assert.Equal((currency.Code, published[currency.Code]), (currency.Code, currency.Exponent))
        );
    }

    [Fact]
    public void Equal_units_share_as_dinero_shares_and_others_within_one_minor_unit_of_it()
    {
        var random = new Random(7);
        var asked = Enumerable
            .Range(0, 300)
            .Select(number =>
            {
                var weights = Enumerable.Range(0, random.Next(1, 9)).Select(_ => number % 3 == 0 ? 700L : random.Next(1, 900)).ToArray();
                return (Amount: random.NextInt64(0, weights.Sum() + 1), Weights: weights);
            })
            .ToArray();
        var shares = Ask(asked.Select(one => new object[] { one.Amount, one.Weights })).GetProperty("shares");
        for (var number = 0; number < asked.Length; number++)
        {
            var ours = Flat(asked[number].Amount, asked[number].Weights);
            var theirs = shares[number].EnumerateArray().Select(share => share.GetInt64()).ToArray();
            if (number % 3 == 0)
                Assert.Equal(theirs, ours);
            // dinero.js gives what is left to the first, not to the largest remainders.
            else
                Assert.All(ours.Zip(theirs), pair => Assert.InRange(pair.First - pair.Second, -1, 1));
            Assert.Equal(asked[number].Amount, ours.Sum());
        }
    }

    [Fact]
    public void Largest_remainders_apportion_as_in_the_worked_example()
    {
        // Source: the example of the Hare quota in the article "Largest remainder method" of Wikipedia (from memory): 10 seats.
        Assert.Equal([5, 2, 1, 1, 1, 0], Flat(10, [47_000, 16_000, 15_900, 12_000, 6_000, 3_100]));
    }

    [Theory]
    // Source: IFRS 15, Illustrative Examples, Example 33, "Allocation methodology" (from memory): 100 over stand-alone prices of 50, 25 and
    // 75 is 33, 17 and 50.
    [InlineData(100, new long[] { 50, 25, 75 }, new long[] { 33, 17, 50 })]
    // And Example 34, "Allocating a discount" (from memory): 60 for B and C, which stand alone at 55 and 45, is 33 and 27.
    [InlineData(60, new long[] { 55, 45 }, new long[] { 33, 27 })]
    public void An_amount_is_allocated_as_in_the_accounting_standards_examples(long amount, long[] standAlone, long[] allocated) =>
        Assert.Equal(allocated, Flat(amount, standAlone));

    [Fact]
    public void What_comes_back_of_a_line_is_its_price_after_a_discount_that_was_allocated_to_it()
    {
        // The same allocation in cents, unit by unit, comes back in whatever parts it is given back, and all of it at the end.
        Assert.Equal([1_667, 1_667, 1_666], [Returns.Share(5_000, 3, 0, 1), Returns.Share(5_000, 3, 1, 1), Returns.Share(5_000, 3, 2, 1)]);
        Gen.Select(Gen.Long[0, 100_000], Gen.Int[1, 9], Gen.Int[1, 4].Array[9])
            .Sample(
                (net, quantity, parts) =>
                {
                    var (back, sum) = (0L, 0L);
                    foreach (var part in parts.Select(part => Math.Min(part, quantity - (int)back)).Where(part => part > 0))
                        (sum, back) = (sum + Returns.Share(net, quantity, back, part), back + part);
                    Assert.Equal(Flat(net, [.. Enumerable.Repeat(net + 1, quantity)])[..(int)back].Sum(), sum);
                }
            );
    }

    [Theory]
    // What is drawn from a card worth 45.00 here and 50.00 in the base currency is what it pays times 50 / 45, rounded up; what comes back
    // is taken off first.
    [InlineData(900, 0, 1_000)]
    [InlineData(901, 0, 1_002)]
    [InlineData(4_500, 0, 5_000)]
    [InlineData(900, 899, 2)]
    [InlineData(900, 900, 0)]
    public void A_draw_is_kept_in_the_base_currency_rounded_up(long paid, long back, long drawn) =>
        Assert.Equal(drawn, new CreditPayment("c", "C", "C", paid, 4_500, 5_000, true).Drawn(back));

    [Fact]
    public void Runs_of_equal_units_share_as_the_units_one_by_one() =>
        Gen.Select(Gen.Long[0, 5_000].Array[1, 6], Gen.Int[1, 5].Array[6], Gen.Double[0, 1])
            .Sample(
                (weights, counts, part) =>
                {
                    var units = weights.SelectMany((weight, number) => Enumerable.Repeat(weight, counts[number])).ToArray();
                    var amount = (long)(units.Sum() * part);
                    var inRuns = Spreading
                        .Spread(amount, weights.Select((weight, number) => new SpreadRun(weight, counts[number])).ToArray())
                        .SelectMany(share => Enumerable.Repeat(share.Share, share.Count));
                    var shares = Flat(amount, units);
                    Assert.Equal(shares, inRuns);
                    Assert.All(shares.Zip(units), pair => Assert.True(pair.First <= pair.Second));
                }
            );

    [Fact]
    public void Rounding_is_that_of_decimal_away_from_zero_and_of_ieee_754_to_even() =>
        // Source: IEEE 754-2019, section 4.3.1, roundTiesToEven; .NET's decimal for both.
        Gen.Select(Gen.Long[0, 1_000_000_000_000], Gen.Int[0, 1_000_000])
            .Sample(
                (amount, share) =>
                {
                    var percent = new Percent(share);
                    Assert.Equal(
                        (long)Math.Round(amount * percent.Value / 100, MidpointRounding.AwayFromZero),
                        percent.Of(amount, Rounding.HalfUp)
                    );
                    Assert.Equal(
                        (long)Math.Round(amount * percent.Value / 100, MidpointRounding.ToEven),
                        percent.Of(amount, Rounding.HalfEven)
                    );
                    // Whole quarters are exact in binary, so the processor's own rounding can be asked.
                    var quarters = amount % (1L << 40);
                    Assert.Equal((long)Math.Round(quarters / 4.0, MidpointRounding.ToEven), Rounding.HalfEven.Quotient(quarters, 4));
                    // Numbers that no long holds round alike.
                    var factor = (Int128)1_000_000_007 * 1_000_000_007;
                    foreach (var rounding in new[] { Rounding.HalfUp, Rounding.HalfEven })
                        Assert.Equal(rounding.Quotient(amount, 8L), rounding.Quotient(amount * factor, 8 * factor));
                }
            );

    [Theory]
    [InlineData(100)]
    [InlineData(500)]
    public void Ties_of_a_spreading_go_to_the_earlier_however_many_there_are(int units)
    {
        // All weigh the same, so that all remainders are equal.
        var weights = Enumerable.Repeat(7L, units).ToArray();
        Assert.Equal(Enumerable.Range(0, units).Select(unit => unit < 3 ? 2L : 1L), Flat(units + 3, weights));
    }

    [Fact]
    public void Amounts_are_read_as_they_are_written() =>
        Gen.Select(Gen.Long[0, Currency.Greatest], Gen.Int[0, 2].Select(number => new[] { "EUR", "JPY", "KWD" }[number]))
            .Sample(
                (minor, code) =>
                {
                    var currency = Currency.Find(code)!;
                    Assert.Equal(AmountFault.None, currency.Read(currency.Write(minor), out var read));
                    Assert.Equal(minor, read);
                    Assert.Equal(
                        (decimal)minor / currency.MinorPerMajor,
                        decimal.Parse(currency.Write(minor), CultureInfo.InvariantCulture)
                    );
                }
            );

    private static long[] Flat(long amount, long[] weights) =>
        [.. Spreading.Spread(amount, weights.Select(weight => new SpreadRun(weight, 1)).ToArray()).Select(share => share.Share)];

    private static JsonElement Ask(IEnumerable<object[]> asked)
    {
        using var node = Process.Start(
            new ProcessStartInfo("node", ["--input-type=module", "--eval", Dinero])
            {
                WorkingDirectory = Path.Combine(House.Root, "tests", "references"),
                RedirectStandardInput = true,
                RedirectStandardOutput = true,
            }
        )!;
        node.StandardInput.Write(JsonSerializer.Serialize(asked));
        node.StandardInput.Close();
        return JsonDocument.Parse(node.StandardOutput.ReadToEnd()).RootElement;
    }
}
