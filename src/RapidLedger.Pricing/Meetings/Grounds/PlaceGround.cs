namespace RapidLedger.Pricing;

/// <summary>No destination is one that both go to.</summary>
internal sealed class PlaceGround : Facet<Place?>
{
    public override string Name => "place";

    protected override string What => "destination";

    // Whether it goes there is told by the places that are named: each of them, each of their countries, one that nobody names, and none.
    protected override IEnumerable<Place?> Values(IReadOnlyList<Demand> demands, Pair pair)
    {
        Place[] named =
        [
            .. demands
                .Select(demand => demand.Condition)
                .OfType<Destination>()
                .SelectMany(destination => (destination.Places.In ?? []).Concat(destination.Places.Out))
                .SelectMany(place => new[] { place, new Place(place.Country) })
                .Distinct(),
        ];
        var elsewhere = Countries.Codes.FirstOrDefault(code => named.All(place => place.Country != code));
        // Where the shop delivers and what is taxed comes first: what is left of a cart is told by it.
        return [.. pair.Around.PlacesOfDelivery, null, .. named, .. elsewhere is null ? [] : (Place[])[new(elsewhere)]];
    }

    protected override bool Holds(Condition condition, Place? value) =>
        condition is Destination destination && destination.Places.Hold(value);
}
