using System.Text.Json;
using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>
/// Reads <c>{"kind": "buyGet", "buy": {"of", "quantity" | "spend"}, "get": {"of", "quantity", "take", "pick"}, "same": …, "repeat": …}</c>.
/// </summary>
internal static class BuyGetReader
{
    public static Reward? Read(Node node, Scope scope)
    {
        if (node.Object("kind", "buy", "get", "same", "repeat") is not { } members)
            return null;
        var same = members["same"]?.Word(("sku", Same.Sku), ("product", Same.Product));
        var scheduled = members["repeat"] is { Value.ValueKind: JsonValueKind.Object } rows && rows.Value.TryGetProperty("schedule", out _);
        var buy = members.Required("buy")?.Object("of", "quantity", "spend");
        var get = members.Required("get")?.Object("of", "quantity", "take", "pick");
        var repeat = members["repeat"] is { } how && !scheduled ? RewardReader.Repeat(how) : Repetition.Once;
        if (buy is null || get is null)
            return null;

        var bought = buy.Required("of") is { } of ? SelectionReader.Read(of, scope) : null;
        Selection? got = bought;
        if (members["same"] is not null)
            get.NotAllowed("with 'same' the units got are of what is bought", "of");
        else
            got = get.Required("of") is { } selected ? SelectionReader.Read(selected, scope) : null;
        var take = get.Required("take") is { } down ? SelectionReader.ReadTake(down, scope) : null;
        var pick = get["pick"]?.Word(("cheapest", Pick.Cheapest), ("dearest", Pick.Dearest)) ?? Pick.Cheapest;

        Deal? deal;
        if (scheduled)
        {
            buy.NotAllowed("the schedule says how many", "quantity", "spend");
            get.NotAllowed("the schedule says how many", "quantity");
            deal = ReadSchedule(members["repeat"]!);
        }
        else
        {
            if (buy["quantity"] is not null && buy["spend"] is not null)
                members["buy"]!.Fault(ProblemCode.ExactlyOne, "What is bought is said by quantity or by spend, not by both.");
            if (members["same"] is not null)
                buy.NotAllowed("'same' goes with quantities and schedules", "spend");
            var gotten = get.Required("quantity")?.Integer(1, Line.GreatestQuantity);
            var quantity = buy["spend"] is null
                ? buy.Required("quantity")?.Integer(1, Line.GreatestQuantity)
                : buy["quantity"]?.Integer(1, Line.GreatestQuantity);
            var spend = buy["spend"] is { } amount ? Positive(amount, scope) : null;
            deal = (gotten, quantity, spend, repeat) switch
            {
                ({ } m, _, { } each, { } times) => new Deal.BySpend(each, m, times),
                ({ } m, { } n, null, { } times) => new Deal.ByQuantity(n, m, times),
                _ => null,
            };
        }

        return bought is null || got is null || take is null || deal is null ? null : new BuyGet(bought, got, deal, take, pick, same);
    }

    /// <summary>An amount to divide by: above zero.</summary>
    public static Amount? Positive(Node node, Scope scope)
    {
        if (scope.Amount(node) is not { } amount)
            return null;
        if (amount.Named.All(entry => entry.Minor > 0))
            return amount;
        node.Fault(ProblemCode.OutOfRange, "This amount must be above zero.");
        return null;
    }

    private static Deal? ReadSchedule(Node node)
    {
        if (node.Object("schedule") is not { } members)
            return null;
        var rows = members
            .Required("schedule")
            ?.Array(
                row =>
                {
                    if (row.Object("buy", "get") is not { } of)
                        return null;
                    var buy = of.Required("buy")?.Integer(1, Line.GreatestQuantity);
                    var get = of.Required("get")?.Integer(1, Line.GreatestQuantity);
                    return buy is { } n && get is { } m ? new ScheduleRow(n, m) : null;
                },
                orEmpty: false
            );
        return rows is null ? null : new Deal.BySchedule(rows.ToEquatableArray());
    }
}
