using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>Reads <c>{"kind": "bundle", "slots": [{"of", "quantity", "take"?}], "take"?, "repeat", "fill"}</c>.</summary>
internal static class BundleReader
{
    public static Reward? Read(Node node, Scope scope)
    {
        if (node.Object("kind", "slots", "take", "repeat", "fill") is not { } members)
            return null;
        var slots = members
            .Required("slots")
            ?.Array(slot => ReadSlot(slot, scope), orEmpty: false, whenEmpty: "A set has at least one slot.");
        var take = members["take"] is { } whole ? SelectionReader.ReadTake(whole, scope) : null;
        var repeat = members["repeat"] is { } how ? RewardReader.Repeat(how) : Repetition.Once;
        var fill = members["fill"]?.Word(("dearest", Pick.Dearest), ("cheapest", Pick.Cheapest)) ?? Pick.Dearest;
        // As written, so that a take that cannot be read still counts as one.
        var slotsTake = (members["slots"]?.Items() ?? []).Any(slot =>
            slot.Value.ValueKind == System.Text.Json.JsonValueKind.Object && slot.Value.TryGetProperty("take", out _)
        );
        if (members["slots"] is not null && slots is { Count: > 0 } && (members["take"] is not null) == slotsTake)
            node.Fault(ProblemCode.ExactlyOne, "Either the set has a take or its slots have, not both and not neither.");
        return slots is null || repeat is null ? null : new Bundle(slots.ToEquatableArray(), take, repeat.Value, fill);
    }

    private static Slot? ReadSlot(Node node, Scope scope)
    {
        if (node.Object("of", "quantity", "take") is not { } members)
            return null;
        var of = members.Required("of") is { } selection ? SelectionReader.Read(selection, scope) : null;
        var quantity = members.Required("quantity")?.Integer(1, Line.GreatestQuantity);
        var take = members["take"] is { } how ? SelectionReader.ReadTake(how, scope) : null;
        return of is null || quantity is null ? null : new(of, quantity.Value, take);
    }
}
