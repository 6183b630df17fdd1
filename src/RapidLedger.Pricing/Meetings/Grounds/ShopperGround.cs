namespace RapidLedger.Pricing;

/// <summary>Nobody is whom both are for: guests against those who are signed in, one group against all but it.</summary>
internal sealed class ShopperGround : BuyerGround
{
    public override string Name => "shopper";

    protected override bool IsAbout(Buyer buyer) => buyer is not (Buyer.Orders or Buyer.Spent);
}
