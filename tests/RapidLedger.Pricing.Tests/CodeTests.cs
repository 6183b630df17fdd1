using System.Numerics;
using CsCheck;
using NodaTime;

namespace RapidLedger.Pricing.Tests;

/// <summary>Codes of batches: against the rules told one after the other, without any index, order or compiled form.</summary>
public class CodeTests
{
    private static readonly Instant Now = Instant.FromUtc(2027, 3, 5, 22, 30);
    private static readonly string[] Spellings = ["AB-1", "ab1", " A B1 ", "CD-2", "EF-3", "GH-4", "OWN", "nobody", "IJ-5", "ij 5"];
    private static readonly Gen<string[]> Entered = Gen.Int[0, Spellings.Length - 1]
        .Array[0, 7]
        .Select(places => places.Select(place => Spellings[place]).ToArray());

    private static readonly Gen<BatchCode> Code = Gen.Select(Gen.Bool, Gen.Int[0, 2], Gen.Int[0, 3], Gen.Int[-1, 2], Gen.Int[0, 30])
        .Select(
            (isVoid, used, each, day, drawn) =>
                new BatchCode(
                    "b",
                    isVoid && used == 0,
                    used,
                    each == 0 ? null : each,
                    day == 2 ? null : new LocalDate(2027, 3, 5).PlusDays(day),
                    drawn * 100
                )
        );

    [Fact]
    public void Of_several_codes_that_are_used_up_the_first_is_told()
    {
        var spent = new BatchCode("b", false, 1, 1, null, 0);
        var priced = Rulebook(new Points(1, null))
            .Price(CartOf(["CD-2", "AB-1"]), batchCodes: new Dictionary<string, BatchCode> { ["AB1"] = spent, ["CD2"] = spent });
        Assert.Equal("CD-2", Assert.IsType<Reason.CodeSpent>(priced.Outcomes[0].Reason).Entered);
    }

    [Fact]
    public void Each_code_has_the_status_that_the_rules_give_it()
    {
        var met = new System.Collections.Concurrent.ConcurrentDictionary<string, int>(StringComparer.Ordinal);
        Gen.Select(Entered, Code.Array[5])
            .Sample(
                (entered, codes) =>
                {
                    var known = new[] { "AB1", "CD2", "EF3", "GH4", "IJ5" }
                        .Zip(codes)
                        .ToDictionary(pair => pair.First, pair => pair.Second);
                    var priced = Rulebook(new Points(1, null)).Price(CartOf(entered), batchCodes: known);
                    var taken = false;
                    var expected = Once(entered, known)
                        // A code of the promotion's own is used before those of batches, wherever it stands.
                        .Select(code =>
                            (
                                code,
                                status: code == "OWN" ? "good"
                                : known.TryGetValue(Trigger.Bare(code), out var found) ? Fault(found) ?? "good"
                                : "unknown"
                            )
                        )
                        .ToArray();
                    var own = expected.Any(entry => entry.code == "OWN");
                    var told = expected.Select(entry =>
                    {
                        if (entry.status != "good")
                            return $"{entry.code} {entry.status}";
                        var isUsed = entry.code == "OWN" || (!own && !taken);
                        taken |= isUsed;
                        return $"{entry.code} {(isUsed ? "applied" : "notNeeded")}";
                    });
                    foreach (var status in priced.Codes)
                        met.AddOrUpdate(status.Status, 1, (_, times) => times + 1);
                    Assert.Equal(told, priced.Codes.Select(code => $"{code.Code} {code.Status}"));
                    Assert.Equal(expected.Any(entry => entry.status == "good"), priced.Applied.Count == 1);
                    // Exactly the codes of batches that were used are used up, and one at most.
                    Assert.Equal(
                        priced.Codes.Where(code => code is { Status: "applied", Batch: not null }).Select(code => Trigger.Bare(code.Code)),
                        priced.UsesUp().Codes.Select(code => code.Bare)
                    );
                },
                iter: 2_000
            );
        Assert.All((string[])["applied", "notNeeded", "codeUsedUp", "codeVoid", "codeEnded", "unknown"], status =>
            Assert.True(met.GetValueOrDefault(status) > 50, $"{status}: {met.GetValueOrDefault(status)}")
        );

        static string? Fault(BatchCode code) =>
            code.Used >= code.UsesEach ? "codeUsedUp"
            : code.IsVoid ? "codeVoid"
            : code.LastDay is { } day && new LocalDate(2027, 3, 5) > day ? "codeEnded"
            : null;
    }

    [Fact]
    public void Cards_pay_in_the_order_entered_what_they_hold_until_nothing_is_due() =>
        Gen.Select(Entered, Code.Array[5], Gen.Int[1, 9])
            .Sample(
                (entered, codes, units) =>
                {
                    var known = new[] { "AB1", "CD2", "EF3", "GH4", "IJ5" }
                        .Zip(codes)
                        .ToDictionary(pair => pair.First, pair => pair.Second);
                    var priced = Rulebook(new Credit(RandomCase.Money(2_000), true)).Price(CartOf(entered, units), batchCodes: known);
                    var (due, paid) = (units * 1_000L, new List<(string, long)>());
                    // The promotion's own code first, then as entered.
                    foreach (var code in Once(entered, known).OrderBy(code => code == "OWN" ? 0 : 1))
                    {
                        long held =
                            code == "OWN" ? 2_000
                            : known.TryGetValue(Trigger.Bare(code), out var card)
                            && !card.IsVoid
                            && !(card.LastDay < new LocalDate(2027, 3, 5))
                                ? Math.Max(0, 2_000 - card.Drawn)
                            : 0;
                        var amount = Math.Min(held, due);
                        due -= amount;
                        if (amount > 0)
                            paid.Add((code, amount));
                    }

                    Assert.Equal(due, priced.Totals.Due);
                    Assert.Equal(
                        paid.Order(),
                        priced.Codes.Where(code => code.Paid > 0).Select(code => (code.Code, code.Paid!.Value)).Order()
                    );
                    var used = priced.UsesUp();
                    Assert.Equal(
                        paid.Where(entry => entry.Item1 != "OWN").Select(entry => (Trigger.Bare(entry.Item1), entry.Item2)).Order(),
                        used.Codes.Select(code => (code.Bare, code.Drawn)).Order()
                    );
                    Assert.Equal(
                        paid.Where(entry => entry.Item1 == "OWN").Sum(entry => entry.Item2),
                        used.Promotions.Sum(use => use.Drawn)
                    );
                    Assert.Equal(paid.Sum(entry => entry.Item2), used.Promotions.Sum(use => use.Amount));
                },
                iter: 1_000
            );

    [Fact]
    public void What_an_order_in_another_currency_uses_is_kept_in_the_base_currency()
    {
        // 20.00 EUR is 17.00 GBP; 4.25 GBP paid draws 4.25 x 20 / 17 = 5.00. 4.26 draws 5.0118, rounded up.
        var store = new Store(RandomCase.Eur, DateTimeZone.Utc, Rates: [new(Currency.Find("GBP")!, new Rate(85, 2))]);
        foreach (var (price, drawn) in new[] { (500L, 500L), (501, 501), (502, 502) })
        {
            var rulebook = Pricing.Rulebook.Compile(
                store,
                new([], [new("p", "P", [new("P", RandomCase.Money(price))])]),
                [new("card", [new Credit(RandomCase.Money(2_000), true)], Trigger: new(["CARD"]))]
            );
            var priced = rulebook.Price(new(Now, [new("P", 1)], Currency.Find("GBP"), Codes: ["card"]));
            var use = Assert.Single(priced.UsesUp().Promotions);
            Assert.Equal((priced.Totals.Credit * 2_000 + 1_699) / 1_700, use.Drawn);
            Assert.InRange(use.Drawn, drawn - 1, drawn + 1);
        }
    }

    [Fact]
    public void Drawn_codes_have_their_form_and_are_as_hard_to_guess_as_is_said() =>
        Gen.Select(Gen.Int[1, 20], Gen.Int[0, 6], Gen.Int[1, 1_000_000], Gen.Int[0, 2])
            .Sample(
                (length, group, good, kind) =>
                {
                    var alphabet = kind switch
                    {
                        0 => CodeForm.Crockford,
                        1 => CodeForm.Letters,
                        _ => CodeForm.Digits,
                    };
                    var form = new CodeForm(alphabet, length, "X", group);
                    var random = new Random(length);
                    var code = form.Draw(random.Next);
                    Assert.StartsWith("X", code);
                    Assert.Equal(length + 1, Trigger.Bare(code).Length);
                    Assert.All(Trigger.Bare(code)[1..], one => Assert.Contains(one, alphabet));
                    Assert.All(code[1..].Split('-').SkipLast(1), part => Assert.Equal(group, part.Length));
                    // Good codes among possible ones: refused where one guess in less than a hundred thousand hits.
                    var guesses = BigInteger.Pow(alphabet.Length, length) / good;
                    Assert.Equal(
                        guesses < 100_000 ? Severity.Error
                            : guesses < 10_000_000 ? Severity.Doubt
                            : null,
                        form.Hardness(good).Severity
                    );
                    Assert.Equal(good > BigInteger.Pow(alphabet.Length, length) / 2, form.Faults(good).Any());
                },
                iter: 500
            );

    [Fact]
    public void The_alphabet_without_look_alikes_is_crockfords()
    {
        // Douglas Crockford, "Base 32" (crockford.com/base32.html): 32 symbols, without I, L, O and U.
        Assert.Equal(32, CodeForm.Crockford.Distinct().Count());
        Assert.DoesNotContain(CodeForm.Crockford, "ILOU".Contains);
    }

    // As the rules say: each once, in normal form; one code of a batch in two spellings is one.
    private static IEnumerable<string> Once(IEnumerable<string> entered, Dictionary<string, BatchCode> known)
    {
        var seen = new HashSet<string>(StringComparer.Ordinal);
        foreach (var code in entered.Select(Trigger.Normal).Distinct())
            if (seen.Add(known.ContainsKey(Trigger.Bare(code)) ? Trigger.Bare(code) : code))
                yield return code;
    }

    private static Cart CartOf(string[] codes, int units = 1) => new(Now, [new("P", units)], Codes: codes.ToEquatableArray());

    private static Rulebook Rulebook(Reward reward) =>
        Pricing.Rulebook.Compile(
            new(RandomCase.Eur, DateTimeZone.Utc),
            new([], [new("p", "P", [new("P", RandomCase.Money(1_000))])]),
            [new("p", [reward], Trigger: new(["own"], ["b"]))]
        );
}
