using NodaTime;
using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>Reads a store.</summary>
internal static class StoreReader
{
    public static Store? Read(Node node, Func<Currency?, Scope> scopeOf)
    {
        if (
            node.Object("currency", "timeZone", "rounding", "policy", "rates", "families", "shipping", "tax", "marginFloor", "language")
            is not { } members
        )
            return null;
        var currency = members.Required("currency") is { } named ? Scope.ReadCurrency(named) : null;
        var scope = scopeOf(currency);
        var zone = members["timeZone"] is { } zoneName ? ReadZone(zoneName) : DateTimeZone.Utc;
        var rounding = members["rounding"]?.Word(("halfUp", Rounding.HalfUp), ("halfEven", Rounding.HalfEven)) ?? Rounding.HalfUp;
        var policy = members["policy"]?.Word(("best", Policy.Best), ("rank", Policy.Rank)) ?? Policy.Best;
        var rates = members["rates"]?.Dictionary() is { } entries ? ReadRates(entries) : [];
        var families = ReadFamilies(members["families"]);
        var shipping = ReadShipping(members["shipping"], scope);
        var tax = members["tax"] is { } taxed ? ReadTax(taxed) : null;
        var floor = members["marginFloor"]?.Percent();
        return currency is null || zone is null
            ? null
            : new(
                currency,
                zone,
                rounding,
                policy,
                rates.ToEquatableArray(),
                families.ToEquatableArray(),
                shipping.ToEquatableArray(),
                tax,
                floor,
                members["language"] is { } language ? Scope.ReadLanguage(language) : null
            );
    }

    private static DateTimeZone? ReadZone(Node node)
    {
        if (node.Text() is not { } name)
            return null;
        if (DateTimeZoneProviders.Tzdb.GetZoneOrNull(name) is { } zone)
            return zone;
        node.Fault(ProblemCode.UnknownTimeZone, $"'{name}' is not a time zone of the IANA database. Write Europe/Berlin, say.");
        return null;
    }

    private static List<ExchangeRate> ReadRates(IEnumerable<(string Name, Node Node)> entries)
    {
        var rates = new List<ExchangeRate>();
        foreach (var (name, value) in entries)
        {
            if (Currency.Find(name) is not { } currency)
                value.Fault(ProblemCode.UnknownCurrency, $"'{name}' is not a currency of ISO 4217.");
            else if (ReadRate(value) is { } rate)
                rates.Add(new(currency, rate));
        }

        return rates;
    }

    private static Rate? ReadRate(Node node)
    {
        if (node.Text() is not { } text)
            return null;
        var point = text.IndexOf('.', StringComparison.Ordinal);
        var decimals = point < 0 ? 0 : text.Length - point - 1;
        var digits = point < 0 ? text : text.Remove(point, 1);
        var whole = point < 0 ? text.Length : point;
        if (
            whole > 0
            && (point < 0 || decimals is > 0 and <= 10)
            && digits.Length <= 12
            && !digits.AsSpan().ContainsAnyExceptInRange('0', '9')
            && long.Parse(digits, System.Globalization.CultureInfo.InvariantCulture) is > 0 and var mantissa
        )
            return new(mantissa, decimals);
        node.Fault(
            ProblemCode.NotARate,
            $"'{text}' is not a rate of exchange. Write what one unit of the base currency buys, above zero, such as 0.85."
        );
        return null;
    }

    private static List<Family> ReadFamilies(Node? node)
    {
        var seen = new HashSet<string>(StringComparer.Ordinal);
        return node?.Array(entry =>
        {
            if (entry.Object("name", "onePerCart") is not { } members)
                return null;
            var name = members.Required("name")?.Name();
            if (name is not null && !seen.Add(name))
                members["name"]!.Fault(ProblemCode.Duplicate, $"There is a family '{name}' already.");
            return name is null ? null : new Family(name, members["onePerCart"]?.Flag() ?? false);
        })
            ?? [];
    }

    private static List<ShippingMethod> ReadShipping(Node? node, Scope scope)
    {
        var seen = new HashSet<string>(StringComparer.Ordinal);
        return node?.Array(entry =>
        {
            if (entry.Object("id", "name", "carrier", "places", "price", "bands", "cost") is not { } members)
                return null;
            var id = members.Required("id")?.Name();
            if (id is not null && !seen.Add(id))
                members["id"]!.Fault(ProblemCode.Duplicate, $"There is a method '{id}' already.");
            var name = members["name"]?.Text();
            var carrier = members["carrier"]?.Text();
            var places = members["places"] is { } where ? SelectionReader.ReadPlaces(where) : null;
            var bands = ReadBands(entry, members, scope);
            var cost = members["cost"] is { } spent ? scope.Amount(spent) : null;
            return id is null || bands is null ? null : new ShippingMethod(id, name ?? id, carrier, places, bands.ToEquatableArray(), cost);
        })
            ?? [];
    }

    private static List<WeightBand>? ReadBands(Node node, Members members, Scope scope)
    {
        if ((members["price"] is null) == (members["bands"] is null))
        {
            node.Fault(ProblemCode.ExactlyOne, "A method has either a price or bands by weight.");
            return null;
        }

        if (members["price"] is { } single)
            return scope.Amount(single) is { } price ? [new(null, price)] : null;
        long? above = 0;
        return members["bands"]!.Array(
            band =>
            {
                if (band.Object("toGrams", "price") is not { } of)
                    return null;
                var price = of.Required("price") is { } charged ? scope.Amount(charged) : null;
                var to = of["toGrams"]?.Integer(0);
                if (above is null || to <= above)
                    (of["toGrams"] ?? band).Fault(ProblemCode.NotAscending, "Bands go up by weight; only the last may be without bound.");
                above = of["toGrams"] is null ? null : to ?? above;
                return price is null ? null : new WeightBand(to, price);
            },
            orEmpty: false
        );
    }

    private static Tax? ReadTax(Node node)
    {
        if (node.Object("mode", "shippingClass", "rates") is not { } members)
            return null;
        var mode = members
            .Required("mode")
            ?.Word(("none", TaxMode.None), ("inclusive", TaxMode.Inclusive), ("exclusive", TaxMode.Exclusive));
        var ofShipping = members["shippingClass"]?.Name();
        var seen = new HashSet<(string, Place)>();
        var rates = members["rates"]
            ?.Array(entry =>
            {
                if (entry.Object("class", "place", "percent") is not { } of)
                    return null;
                var name = of.Required("class")?.Name();
                var place = of.Required("place") is { } where ? Scope.ReadPlace(where) : null;
                var percent = of.Required("percent")?.Percent();
                if (name is null || place is null || percent is null)
                    return null;
                if (!seen.Add((name, place)))
                    entry.Fault(ProblemCode.Duplicate, $"The rate of '{name}' in {place.Code} stands here twice.");
                return new TaxRate(name, place, percent.Value);
            })
            ?? [];
        return mode is null ? null : new(mode.Value, ofShipping, rates.ToEquatableArray());
    }
}
