namespace RapidLedger.Pricing;

/// <summary>What one pricing works on. Kept from cart to cart, so that as a rule nothing has to be made; used by one at a time.</summary>
internal sealed class Workplace
{
    [ThreadStatic]
    private static Workplace? spare;

    public Sheet Sheet { get; } = new();

    public ChoiceSearch Choice { get; } = new();

    public Settlement Settlement { get; } = new();

    /// <summary>The numbers of the promotions that could touch the cart.</summary>
    public NumberSet Numbers { get; } = new();

    /// <summary>What has been asked for on the way to them; empty in between.</summary>
    public NumberSet Asked { get; } = new();

    /// <summary>Those of them that are eligible.</summary>
    public List<CompiledPromotion> Eligible { get; } = [];

    /// <summary>Takes one that nobody else has.</summary>
    public static Workplace Take()
    {
        var taken = spare ?? new();
        spare = null;
        return taken;
    }

    /// <summary>Gives it back; one on which something went wrong is not given back.</summary>
    public void Return()
    {
        Eligible.Clear();
        spare = this;
    }
}
