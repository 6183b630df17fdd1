using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>Reads a cart, and what has been used so far.</summary>
internal static class CartReader
{
    private const int MostCodes = 1_000;
    private const int MostLines = 10_000;
    private const int MostPicks = 1_000;

    public static Cart? Read(Node node, Scope scope)
    {
        if (
            node.Object("at", "currency", "channel", "method", "destination", "shopper", "codes", "picks", "guestKey", "language", "lines")
            is not { } members
        )
            return null;
        var at = members.Required("at")?.Moment();
        var channel = members["channel"]?.Name() ?? Cart.Web;
        var method = members["method"] is { } chosen ? scope.Methods.Read(chosen) : null;
        var destination = members["destination"] is { } place ? Scope.ReadPlace(place) : null;
        var shopper = members["shopper"] is { } buyer ? ReadShopper(buyer, scope) : null;
        var codes = members["codes"]?.Array(code => code.Text()) ?? [];
        if (codes.Count > MostCodes)
            members["codes"]!.Fault(ProblemCode.OutOfRange, $"A cart holds at most {MostCodes} codes.");
        var picks = members["picks"]?.Dictionary() is { } picked ? ReadPicks(picked, scope) : [];
        var lines = members.Required("lines")?.Array(line => ReadLine(line, scope));
        if (lines?.Count > MostLines)
            members["lines"]!.Fault(ProblemCode.OutOfRange, $"A cart holds at most {MostLines} lines.");
        return at is null || lines is null
            ? null
            : new(
                at.Value,
                lines.ToEquatableArray(),
                scope.Paid,
                channel,
                method,
                destination,
                shopper,
                codes.ToEquatableArray(),
                picks.ToEquatableArray(),
                members["guestKey"]?.Name(),
                members["language"] is { } language ? Scope.ReadLanguage(language) : null
            );
    }

    public static Dictionary<string, Usage> ReadUsage(Node? node, Scope scope)
    {
        var usage = new Dictionary<string, Usage>(StringComparer.Ordinal);
        foreach (var (promotion, value) in node?.Dictionary() ?? [])
        {
            if (
                !scope.Promotions.Check(promotion, value) || value.Object("total", "shopper", "today", "budget", "drawn") is not { } members
            )
                continue;
            usage[promotion] = new(
                members["total"]?.Integer(0) ?? 0,
                members["shopper"]?.Integer(0) ?? 0,
                members["today"]?.Integer(0) ?? 0,
                (members["budget"] is { } budget ? scope.InBase(budget) : null) ?? 0,
                (members["drawn"] is { } drawn ? scope.InBase(drawn) : null) ?? 0
            );
        }

        return usage;
    }

    private static Shopper? ReadShopper(Node node, Scope scope)
    {
        if (node.Object("id", "groups", "orders", "spent") is not { } members)
            return null;
        var id = members["id"]?.Name();
        var groups = members["groups"]?.Array(group => group.Name()) ?? [];
        var orders = members["orders"]?.Integer(0) ?? 0;
        var spent = members["spent"] is { } sum ? scope.InBase(sum) : null;
        return new(id, groups.ToEquatableArray(), orders, spent ?? 0);
    }

    private static List<Picks> ReadPicks(IEnumerable<(string Name, Node Node)> entries, Scope scope)
    {
        var picks = new List<Picks>();
        foreach (var (promotion, list) in entries)
        {
            if (!scope.Promotions.Check(promotion, list))
                continue;
            if (list.Value.ValueKind == System.Text.Json.JsonValueKind.Array && list.Value.GetArrayLength() > MostPicks)
                list.Fault(ProblemCode.OutOfRange, $"At most {MostPicks} picks are read for one promotion.");
            else if (list.Array(scope.Skus.Read) is { } skus)
                picks.Add(new(promotion, skus.ToEquatableArray()));
        }

        return picks;
    }

    private static Line? ReadLine(Node node, Scope scope)
    {
        if (node.Object("sku", "quantity") is not { } members)
            return null;
        var sku = members.Required("sku") is { } named ? scope.Skus.Read(named) : null;
        if (sku is not null && scope.Gone.Contains(sku))
            members["sku"]!.Fault(ProblemCode.NotAllowed, $"'{sku}' was taken out of the shop. Take it out of the cart.");
        var quantity = members.Required("quantity")?.Integer(1, Line.GreatestQuantity);
        return sku is null || quantity is null ? null : new(sku, (int)quantity);
    }
}
