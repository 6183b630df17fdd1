using System.Globalization;
using System.Text.RegularExpressions;

namespace RapidLedger.Pricing;

/// <summary>A name that promises another amount than the rule gives or asks for.</summary>
internal sealed partial class LabelAmount : Check
{
    public override string Name => "labelAmount";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        NamedAmount[] named = [.. promotion.AllAmounts().DistinctBy(amount => (amount.Currency, amount.Minor))];
        if (named.Length == 0) yield break;
        var known = named.Select(amount => (decimal)amount.Minor / amount.Currency.MinorPerMajor).ToHashSet();
        foreach (var (at, text) in promotion.Titles())
        {
            // What a gift is worth is no figure of the rule: where one amount is right the others are about something else.
            string[] said = [.. Money().Matches(text).Select(match => match.Groups[1].Success ? match.Groups[1].Value : match.Groups[2].Value)];
            if (said.Length == 0 || said.Any(figure => known.Contains(decimal.Parse(figure.Replace(',', '.'), CultureInfo.InvariantCulture)))) continue;
            var figures = named.Where(amount => amount.Currency == named[0].Currency).Take(3).Select(amount => around.Wording.Say(amount.Minor, amount.Currency));
            yield return Doubt(at, $"It says {Wording.Join(said, "and")}, and the rule has {Wording.Join(figures, "and")}.");
        }
    }

    [GeneratedRegex(@"(?:[€£¥$]|\b[A-Z]{3})\s?(\d{1,9}(?:[.,]\d{1,2})?)(?!\d)|(?<!\d)(\d{1,9}(?:[.,]\d{1,2})?)\s?(?:[€£¥$]|EUR\b|GBP\b|JPY\b|[Ee]uros?\b)")]
    private static partial Regex Money();
}
