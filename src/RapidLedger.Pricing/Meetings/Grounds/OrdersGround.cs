namespace RapidLedger.Pricing;

/// <summary>Nobody has so many past orders as both ask for; a guest has none.</summary>
internal sealed class OrdersGround : BuyerGround
{
    public override string Name => "orders";

    protected override bool IsAbout(Buyer buyer) => buyer is not Buyer.Spent;
}
