using System.Globalization;
using System.Text.RegularExpressions;

namespace RapidLedger.Pricing;

/// <summary>A name that promises another percentage than the rule gives.</summary>
internal sealed partial class LabelFigure : Check
{
    public override string Name => "labelFigure";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        decimal[] given =
        [
            .. promotion.AllTaken().Select(taken => taken.Take).OfType<Take.Percentage>().Select(take => take.Percent.Value).Distinct(),
        ];
        if (given.Length == 0)
            yield break;
        foreach (var (at, text) in promotion.Titles())
        {
            foreach (Match match in Percentage().Matches(text))
            {
                var said = decimal.Parse(match.Groups[1].Value.Replace(',', '.'), CultureInfo.InvariantCulture);
                if (given.Contains(said))
                    continue;
                var figure = $"{given[0]:0.####}";
                yield return Doubt(
                    at,
                    $"It says {said:0.####} %, and the rule gives {string.Join(" or ", given.Select(one => $"{one:0.####} %"))}.",
                    given.Length == 1
                        ? new($"say {figure} %", at, text.Replace(match.Groups[1].Value, figure, StringComparison.Ordinal))
                        : null
                );
                break;
            }
        }
    }

    [GeneratedRegex(@"(\d{1,3}(?:[.,]\d{1,2})?)\s?%")]
    private static partial Regex Percentage();
}
