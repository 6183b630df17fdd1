using System.Globalization;
using System.Text.RegularExpressions;

namespace RapidLedger.Pricing;

/// <summary>A name that promises another amount than the rule gives or asks for.</summary>
internal sealed partial class LabelAmount : Check
{
    private const string Figure = @"(?<n>\d{1,3}(?:[.,]\d{3})+(?:[.,]\d{1,2})?|\d{1,9}(?:[.,]\d{1,2})?)(?![\d])";

    public override string Name => "labelAmount";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        NamedAmount[] named = [.. promotion.AllAmounts().DistinctBy(amount => (amount.Currency, amount.Minor))];
        if (named.Length == 0)
            yield break;
        var known = named.Select(amount => InMajor(amount.Minor, amount.Currency)).ToHashSet();
        foreach (var (at, text) in promotion.Titles())
        {
            // What a gift is worth is no figure of the rule: where one amount is right the others are about something else.
            string[] said =
            [
                .. Money()
                    .Matches(text)
                    .Where(match => IsPaidIn(match.Groups["c"].Value, around.Store))
                    .Select(match => match.Groups["n"].Value),
            ];
            if (said.Length == 0 || said.Any(figure => known.Contains(Read(figure))))
                continue;
            var figures = named
                .Where(amount => amount.Currency == named[0].Currency)
                .Take(3)
                .Select(amount => around.Wording.Say(amount.Minor, amount.Currency));
            yield return Doubt(at, $"It says {Wording.Join(said, "and")}, and the rule has {Wording.Join(figures, "and")}.");
        }

        foreach (var (at, text) in promotion.Titles().Where(title => title.At.StartsWith("/label", StringComparison.Ordinal)))
        foreach (var other in Abroad(text, promotion, around))
            yield return Remark(at, other);
    }

    // A text is one for every currency: what is told to those who pay in another one, where its figure is not theirs.
    private static IEnumerable<string> Abroad(string text, Promotion promotion, Surroundings around)
    {
        decimal[] said = [.. Decimals().Matches(text).Select(match => Read(match.Groups["n"].Value))];
        foreach (var amount in promotion.Amounts())
        {
            var store = around.Store;
            if (amount.For(store.Currency, store) is not { } own || !said.Contains(InMajor(own, store.Currency)))
                continue;
            (Currency Currency, long Minor)[] theirs =
            [
                .. CurrenciesOf(promotion, store)
                    .Where(currency => currency != store.Currency)
                    .Select(currency => (currency, amount.For(currency, store)))
                    .Where(one => one.Item2 is { } minor && !said.Contains(InMajor(minor, one.currency)))
                    .Select(one => (one.currency, one.Item2!.Value)),
            ];
            if (theirs.Length > 0)
                yield return $"Whoever pays in {Wording.Join(theirs.Select(one => one.Currency.Code), "or")} reads “{text}”, and for them it is {Wording.Join(theirs.Select(one => around.Wording.Say(one.Minor, one.Currency)), "or")}.";
        }
    }

    private static decimal InMajor(long minor, Currency currency) => (decimal)minor / currency.MinorPerMajor;

    // The currencies that it can be paid in: those it asks for, else all the shop's.
    private static IEnumerable<Currency> CurrenciesOf(Promotion promotion, Store store) =>
        promotion.When is AllOf(var parts) && parts.OfType<PaidIn>().FirstOrDefault() is { } asked ? asked.Currencies : store.Currencies;

    // 1.234,50 and 1,234.50: one or two digits behind the last mark are a fraction, all other marks are for the eye.
    private static decimal Read(string figure)
    {
        var mark = figure.LastIndexOfAny(['.', ',']);
        var isFraction = mark >= 0 && figure.Length - mark <= 3;
        var digits = string.Concat((isFraction ? figure[..mark] : figure).Where(char.IsAsciiDigit));
        return decimal.Parse(isFraction ? $"{digits}.{figure[(mark + 1)..]}" : digits, CultureInfo.InvariantCulture);
    }

    // Three capital letters are a currency only if the store can be paid in it: others are words.
    private static bool IsPaidIn(string sign, Store store) =>
        sign.Length != 3 || (Currency.Find(sign) is { } currency && (currency == store.Currency || store.RateTo(currency) is not null));

    [GeneratedRegex(@"(?<![\d.,])(?<n>\d{1,3}(?:[.,]\d{3})*[.,]\d{2})(?![\d.,]*\d|\s?%)")]
    private static partial Regex Decimals();

    [GeneratedRegex($@"(?<c>[€£¥$]|\b[A-Z]{{3}})\s?{Figure}|(?<![\d.,]){Figure}\s?(?<c>[€£¥$]|[A-Z]{{3}}\b|[Ee]uros?\b)")]
    private static partial Regex Money();
}
