namespace RapidLedger.Pricing.Tests;

/// <summary>Promotions priced all together, without index and search: what they give if they are a choice.</summary>
internal static class Together
{
    /// <summary>
    /// What all of the promotions give together, after the markdowns among them; null if they are no choice, or one is not eligible.
    /// </summary>
    public static Tally? Price(Store store, Catalogue catalogue, IEnumerable<Promotion> promotions, Cart cart)
    {
        var index = CatalogueIndex.Of(store, catalogue);
        CompiledPromotion[] compiled =
        [
            .. promotions.Order(Promotion.Order).Select(promotion => CompiledPromotion.Of(promotion, new(index))),
        ];
        var eligibility = Eligibility.Of(cart, new Dictionary<string, Usage>(), new Dictionary<string, BatchCode>());
        var unmarked = new CartView(cart, index);
        CompiledPromotion[] marking =
        [
            .. compiled.Where(promotion =>
                promotion.Markdown is not null && eligibility.FirstObstacle(promotion, unmarked) == Obstacle.None
            ),
        ];
        var view = new PricePass(unmarked, marking, _ => []).Marked();
        CompiledPromotion[] slots = [.. compiled.Where(promotion => promotion.Markdown is null)];
        if (!Array.TrueForAll(slots, promotion => eligibility.FirstObstacle(promotion, view) == Obstacle.None))
            return null;
        var sheet = new Sheet();
        var choice = Open(sheet, view, slots);
        return choice.IsChoice([.. Enumerable.Range(0, slots.Length)]) ? sheet.Total : null;
    }

    /// <summary>A choice among promotions on a sheet that has work for all that is asked of it.</summary>
    public static ChoiceSearch Open(Sheet sheet, CartView view, CompiledPromotion[] slots, long effort = 1_000)
    {
        var charge = Delivery.Of(view).Charge;
        sheet.Work.Open(effort * WorkBudget.OfOneEffort, default);
        sheet.Open(view, charge, slots.Length);
        sheet.Fillings.Begin(WorkBudget.OfOneEffort);
        var choice = new ChoiceSearch();
        choice.Open(sheet, slots, charge);
        return choice;
    }

    /// <summary>Work without bound.</summary>
    public static WorkBudget Unbounded()
    {
        var work = new WorkBudget();
        work.Open(long.MaxValue, default);
        return work;
    }
}
