namespace RapidLedger.Pricing;

/// <summary>A reward that gives nothing: nothing is taken, from nothing, or so little that it rounds away.</summary>
internal sealed class NothingGiven : StoppingCheck
{
    public override string Name => "nothingGiven";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        foreach (var taken in promotion.AllTaken())
        {
            var isNothing = taken.Take switch
            {
                Take.Percentage(var percent) => percent.TenThousandths == 0,
                Take.Off(var amount) => amount.Named.All(entry => entry.Minor == 0),
                _ => false,
            };
            if (isNothing)
            {
                yield return Error(taken.At, "It takes nothing off.");
                continue;
            }

            if (taken.On is not { } on)
                continue;
            var variants = around.Catalogue.Select(on).ToArray();
            if (variants.Length == 0)
                yield return Doubt(taken.At[..taken.At.LastIndexOf('/')], $"No item is {around.Wording.Say(on)} at the moment.");
            else if (
                taken.Take?.For(around.Store.Currency, around.Store) is { } cart
                && taken.Reward is Discount { Per: Per.Unit } or Markdown
                && Array.TrueForAll(variants, variant => cart.From(around.Prices.Current(variant)) == 0)
            )
                yield return Doubt(
                    taken.At,
                    $"On every item it comes to {around.Wording.Say(0)}: it rounds to nothing, or the price is no lower."
                );
        }
    }
}
