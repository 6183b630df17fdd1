namespace RapidLedger.Pricing;

/// <summary>Nobody has spent before what both ask for; a guest has spent nothing.</summary>
internal sealed class SpentGround : BuyerGround
{
    public override string Name => "spent";

    protected override bool IsAbout(Buyer buyer) => true;
}
