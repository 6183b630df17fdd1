using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>Reads <c>{"kind": "markdown", "levels": [{"on": selection, "take": take}]}</c>.</summary>
internal static class MarkdownReader
{
    public static Reward? Read(Node node, Scope scope)
    {
        if (node.Object("kind", "levels") is not { } members)
            return null;
        var levels = members
            .Required("levels")
            ?.Array(
                level =>
                {
                    if (level.Object("on", "take") is not { } of)
                        return null;
                    var on = of.Required("on") is { } selection ? SelectionReader.Read(selection, scope) : null;
                    var take = of.Required("take") is { } how ? SelectionReader.ReadTake(how, scope) : null;
                    return on is null || take is null ? null : new MarkdownLevel(on, take);
                },
                orEmpty: false,
                whenEmpty: "A markdown has at least one level."
            );
        return levels is null ? null : new Markdown(levels.ToEquatableArray());
    }
}
