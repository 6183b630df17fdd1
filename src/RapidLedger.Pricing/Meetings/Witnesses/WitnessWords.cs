namespace RapidLedger.Pricing;

/// <summary>What a witness shows, in words.</summary>
internal static class WitnessWords
{
    /// <summary>A cart: "2 Fell tyre for a shopper in trade with the code SPRING".</summary>
    public static string Say(Cart cart, Wording wording) =>
        Goods(cart, wording)
        + ForWhom(cart, wording)
        + (
            cart.Codes.Count > 0
                ? $" with {Wording.Plural(cart.Codes.Count, "the code", "the codes")} {Wording.Join(cart.Codes, "and")}"
                : ""
        );

    /// <summary>What is in it: "2 Fell tyre and 1 Moor tyre".</summary>
    public static string Goods(Cart cart, Wording wording) =>
        Wording.Join(cart.Lines.Select(line => $"{Wording.Number(line.Quantity)} {wording.Item(line.Sku)}"), "and");

    /// <summary>Who buys, where that is told by a group: " for a shopper in trade".</summary>
    public static string ForWhom(Cart cart, Wording wording) =>
        cart.Shopper is { Groups: { Count: > 0 } groups } ? $" for a shopper in {Wording.Join(groups, "and")}" : "";

    /// <summary>What a promotion does to it: "“Trade terms” takes 3.00".</summary>
    public static string Takes(Promotion promotion, Witness witness, Wording wording)
    {
        var outcome = witness.Priced.Applied.First(one => one.Promotion.Id == promotion.Id);
        return $"“{promotion.Named}” "
            + (
                promotion.Card is not null ? $"pays {wording.Say(outcome.Amount, witness.Priced.Currency)}"
                : outcome.Amount > 0 ? $"takes {wording.Say(outcome.Amount, witness.Priced.Currency)}"
                : outcome.Units > 0 ? $"gives {Wording.Counted(outcome.Units, "unit")}"
                : "gives something beside the cart"
            );
    }
}
