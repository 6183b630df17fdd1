namespace RapidLedger.Pricing;

/// <summary>"More than" at a number at which "at least" is usually meant.</summary>
internal sealed class MoreThanRound : Check
{
    public override string Name => "moreThanRound";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        foreach (var (at, condition) in promotion.Conditions())
        {
            var (name, comparison, number) = condition switch
            {
                Quantity quantity => ("quantity", quantity.Comparison, quantity.Number),
                Distinct distinct => ("distinct", distinct.Comparison, distinct.Number),
                _ => ("", default, 0),
            };
            if (comparison == Comparison.MoreThan && number > 0 && (number % 5 == 0 || number <= 3))
                yield return Doubt(
                    $"{at}/{name}/op",
                    $"More than {number} begins at {number + 1}: {Wording.Counted(number, "item")} {(number == 1 ? "is" : "are")} not enough.",
                    new($"at least {number}", $"{at}/{name}/op", ">=")
                );
        }
    }
}
