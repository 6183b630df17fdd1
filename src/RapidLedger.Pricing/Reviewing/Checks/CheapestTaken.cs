namespace RapidLedger.Pricing;

/// <summary>
/// A unit that is made free or set to a price before another promotion takes from the cheapest of the same items: it takes the place.
/// </summary>
internal sealed class CheapestTaken : Check
{
    public override string Name => "cheapestTaken";

    public override IEnumerable<Finding> Find(Promotion promotion, Surroundings around)
    {
        foreach (var taken in promotion.AllTaken())
        {
            if (taken.On is not { } on || taken.Reward is Markdown || !SetsPrice(taken.Take) || (taken.Reward as Discount)?.Per == Per.Cart)
                continue;
            foreach (var other in around.About(promotion, around.Items(on)))
            {
                // Only what acts after it, in the same pass, finds the prices that it leaves.
                if (Promotion.Order.Compare(promotion, other) > 0 || !TakesCheapest(other) || !around.Live.CanMeet(promotion, other))
                    continue;
                yield return Remark(
                    taken.At,
                    $"“{other.Named}” takes from the cheapest of the same items, after this: {(taken.Take is Take.To ? "what has this price" : "the free unit")} is then the cheapest there, and little or nothing is taken from it."
                ) with
                {
                    Other = other.Id,
                };
            }
        }
    }

    private static bool SetsPrice(Take? take) =>
        take is null or Take.To || (take is Take.Percentage(var percent) && percent == Percent.Whole);

    private static bool TakesCheapest(Promotion promotion) =>
        promotion
            .Rewards()
            .Any(entry =>
                entry.Reward
                    is BuyGet { Pick: Pick.Cheapest, Same: null }
                        or Discount { Per: Per.Unit, MaxUnits: not null, Pick: null or Pick.Cheapest }
            );
}
