namespace RapidLedger.Pricing;

/// <summary>A code that is guessed easily, or taken for another live one.</summary>
internal sealed class CodeWeak : Check
{
    private const int Short = 5;

    // Letters and digits that are read for one another (common practice, no source).
    private static readonly Dictionary<char, char> LookAlike = new()
    {
        ['0'] = 'O',
        ['1'] = 'I',
        ['L'] = 'I',
        ['5'] = 'S',
        ['8'] = 'B',
        ['2'] = 'Z',
    };

    public override string Name => "codeWeak";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        if (promotion.Trigger is not { IsAutomatic: false } trigger)
            yield break;
        var others = around
            .Others.Where(other => other.Id != promotion.Id)
            .SelectMany(other => (other.Trigger ?? Trigger.Automatic).Codes.Select(code => (Code: Trigger.Normal(code), Of: other)))
            .ToArray();
        for (var place = 0; place < trigger.Codes.Count; place++)
        {
            var code = Trigger.Normal(trigger.Codes[place]);
            if (code.Length < Short)
                yield return Remark(
                    $"/trigger/codes/{place}",
                    $"{code} has {Wording.Counted(code.Length, "character")}: it is guessed easily."
                );
            if (others.FirstOrDefault(other => other.Code != code && AreAlike(other.Code, code)) is { Of: { } of, Code: var like })
                yield return Doubt($"/trigger/codes/{place}", $"{code} is easily taken for {like}, the code of “{of.Named}”.") with
                {
                    Other = of.Id,
                };
        }
    }

    // The same when look-alikes are, or one character apart in codes that are long enough for that to be an accident.
    private static bool AreAlike(string left, string right)
    {
        if (Plain(left) == Plain(right))
            return true;
        return left.Length == right.Length
            && left.Length >= Short
            && left.Zip(right).Count(pair => pair.First != pair.Second) == 1
            // Numbered codes are one apart on purpose.
            && !left.Zip(right).Any(pair => pair.First != pair.Second && char.IsDigit(pair.First) && char.IsDigit(pair.Second));
    }

    private static string Plain(string code) => string.Concat(code.Select(letter => LookAlike.GetValueOrDefault(letter, letter)));
}
