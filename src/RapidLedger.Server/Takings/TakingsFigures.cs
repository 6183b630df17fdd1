using RapidLedger.Pricing;

namespace RapidLedger.Server.Takings;

/// <summary>Figures as pages read them: amounts as decimal texts in the base currency.</summary>
/// <param name="Orders">Orders, taken ones.</param>
/// <param name="Units">Units lowered or given; of all orders, units sold and given.</param>
/// <param name="Takings">Net of goods and gifts after all reductions, without tax and delivery.</param>
/// <param name="Given">What was given as shoppers saw it, without delivery.</param>
/// <param name="GivenDelivery">What was taken off delivery.</param>
/// <param name="GivenWithoutTax">What was given, without tax.</param>
/// <param name="Paid">What credits paid.</param>
/// <param name="Margin">Takings less cost, of the orders whose costs are all known; null: of none.</param>
/// <param name="MarginOf">The takings of those orders.</param>
/// <param name="MarginPercent">Margin as a share of those takings.</param>
/// <param name="KnownPercent">Those takings as a share of all.</param>
/// <param name="AverageOrder">Takings by orders; null: there are none.</param>
/// <param name="NewShoppers">Orders of shoppers who had none before.</param>
/// <param name="Guests">Orders of guests.</param>
/// <param name="Held">Orders that are not paid yet, beside the others.</param>
internal sealed record TakingsFigures(
    long Orders,
    long Units,
    string Takings,
    string Given,
    string GivenDelivery,
    string GivenWithoutTax,
    string Paid,
    string? Margin,
    string MarginOf,
    decimal? MarginPercent,
    decimal? KnownPercent,
    string? AverageOrder,
    long NewShoppers,
    long Guests,
    long Held
)
{
    public static TakingsFigures Of(Contribution sums, Currency currency, long held = 0) =>
        new(
            sums.Orders,
            sums.Units,
            currency.Write(sums.Takings),
            currency.Write(sums.Given),
            currency.Write(sums.GivenDelivery),
            currency.Write(sums.GivenWithoutTax),
            currency.Write(sums.Paid),
            sums.MarginOf == 0 && sums.Takings > 0 ? null : currency.Write(sums.Margin),
            currency.Write(sums.MarginOf),
            Percent(sums.Margin, sums.MarginOf),
            Percent(sums.MarginOf, sums.Takings),
            sums.AverageOrder is { } average ? currency.Write(average) : null,
            sums.NewShoppers,
            sums.Guests,
            held
        );

    private static decimal? Percent(long part, long whole) =>
        whole == 0 ? null : Math.Round(100m * part / whole, 1, MidpointRounding.AwayFromZero);
}
