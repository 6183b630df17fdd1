using System.Text.Json.Nodes;
using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>
/// The JSON Schemas (2020-12) of a case, a promotion and a result. They tell the form; what must hold between members is told by the
/// reader.
/// </summary>
public static partial class Schemas
{
    private const string Dialect = "https://json-schema.org/draft/2020-12/schema";

    private static JsonObject Text => new() { ["type"] = "string" };

    private static JsonObject Flag => new() { ["type"] = "boolean" };

    private static JsonObject Percent =>
        new()
        {
            ["type"] = "number",
            ["minimum"] = 0,
            ["maximum"] = 100,
        };

    private static JsonObject Amount =>
        TextOr(
            Minor,
            new JsonObject
            {
                ["type"] = "object",
                ["patternProperties"] = new JsonObject { ["^[A-Z]{3}$"] = Minor },
                ["additionalProperties"] = false,
                ["minProperties"] = 1,
            }
        );

    // An amount where money is measured, else a number of units.
    private static JsonObject Figure => TextOr(Minor, Whole(0));

    private static JsonObject Texts => TextOr(Text, Map(Text));

    private static JsonObject Minor => new() { ["type"] = "string", ["pattern"] = @"^\d+(\.\d{1,3})?$" };

    private static JsonObject Signed => new() { ["type"] = new JsonArray("string", "null"), ["pattern"] = @"^-?\d+(\.\d{1,3})?$" };

    /// <summary>A case.</summary>
    public static JsonObject Case() =>
        Root(
            "A case",
            With(
                Obj(
                    ["store", "catalogue", "promotions", "cart"],
                    new()
                    {
                        ["$schema"] = Text,
                        ["title"] = Text,
                        ["store"] = Store(),
                        ["catalogue"] = Catalogue(),
                        ["promotions"] = List(Ref("promotion")),
                        ["batches"] = Map(
                            Obj(
                                ["codes"],
                                new()
                                {
                                    ["usesEach"] = TextOr(Words("any"), Whole(1)),
                                    ["lastDay"] = Text,
                                    ["void"] = Flag,
                                    ["codes"] = Map(
                                        Obj(
                                            [],
                                            new()
                                            {
                                                ["used"] = Whole(0),
                                                ["void"] = Flag,
                                                ["drawn"] = Minor,
                                            }
                                        )
                                    ),
                                }
                            )
                        ),
                        ["usage"] = Map(
                            Obj(
                                [],
                                new()
                                {
                                    ["total"] = Whole(0),
                                    ["shopper"] = Whole(0),
                                    ["today"] = Whole(0),
                                    ["budget"] = Minor,
                                    ["drawn"] = Minor,
                                }
                            )
                        ),
                        ["cart"] = Cart(),
                        ["expect"] = AnyPart(ResultForm()),
                    }
                )
            )
        );

    /// <summary>A promotion.</summary>
    public static JsonObject Promotion() => Root("A promotion", With(Ref("promotion")));

    /// <summary>A result.</summary>
    public static JsonObject Result() => Root("A result", ResultForm());

    private static JsonObject Definitions() =>
        new()
        {
            ["selection"] = Obj(
                ["in"],
                new()
                {
                    ["in"] = List(Ref("term"), 1),
                    ["out"] = List(Ref("term")),
                    ["fullPriceOnly"] = Flag,
                    ["priceFrom"] = Amount,
                    ["priceTo"] = Amount,
                }
            ),
            ["term"] = One(
                ("all", Flag),
                ("category", Text),
                ("brand", Text),
                ("product", Text),
                ("sku", Text),
                ("tag", Text),
                ("option", Option())
            ),
            ["take"] = One(("percent", Percent), ("amount", Amount), ("price", Amount)),
            ["places"] = Obj([], new() { ["in"] = List(Text, 1), ["out"] = List(Text) }),
            ["condition"] = Condition(),
            ["reward"] = ByKind(Rewards().ByName().Select(kind => (kind.Key, kind.Value))),
            ["stepReward"] = ByKind(OnStep()),
            ["promotion"] = PromotionForm(),
        };

    private static JsonObject Option() =>
        Obj(
            ["name", "value"],
            new()
            {
                ["name"] = Text,
                ["value"] = Text,
                ["product"] = Text,
            }
        );

    private static JsonObject PromotionForm() =>
        Obj(
            ["id", "rewards"],
            new()
            {
                ["id"] = Text,
                ["name"] = Text,
                ["label"] = Texts,
                ["note"] = Text,
                ["state"] = Words("draft", "live", "paused", "archived"),
                ["rank"] = Whole(0),
                ["trigger"] = If(
                    Way(["automatic"], []),
                    Obj(["automatic"], new() { ["automatic"] = Flag }),
                    Needed(Obj([], new() { ["codes"] = List(Text, 1), ["batches"] = List(Text, 1) }))
                ),
                ["window"] = Needs(
                    Obj(
                        [],
                        new()
                        {
                            ["start"] = Text,
                            ["end"] = Text,
                            ["graceMinutes"] = Whole(0, Window.MostGrace),
                            ["repeat"] = Text,
                            ["lasts"] = Text,
                        }
                    ),
                    ("repeat", ["start", "lasts"]),
                    ("lasts", ["repeat"])
                ),
                ["when"] = Ref("condition"),
                ["rewards"] = List(Ref("reward"), 1),
                ["limits"] = Obj(
                    [],
                    new()
                    {
                        ["total"] = Whole(0),
                        ["perShopper"] = Whole(0),
                        ["perDay"] = Whole(0),
                        ["budget"] = Minor,
                    }
                ),
                ["stacking"] = Also(
                    Obj(
                        [],
                        new()
                        {
                            ["allow"] = Words("any", "none", "only", "except"),
                            ["with"] = List(Text),
                            ["family"] = Text,
                        }
                    ),
                    If(Way(["allow"], [], ("allow", Words("only", "except"))), Way(["with"], []), Way([], ["with"]))
                ),
                ["says"] = Obj(
                    [],
                    new()
                    {
                        ["near"] = Texts,
                        ["reached"] = Texts,
                        ["refused"] = Texts,
                        ["show"] = List(Words("item", "basket", "today")),
                    }
                ),
            }
        );

    private static JsonObject Store() =>
        Obj(
            ["currency"],
            new()
            {
                ["currency"] = Text,
                ["timeZone"] = Text,
                ["rounding"] = Words("halfUp", "halfEven"),
                ["policy"] = Words("best", "rank"),
                ["rates"] = Map(Text),
                ["families"] = List(Obj(["name"], new() { ["name"] = Text, ["onePerCart"] = Flag })),
                ["shipping"] = List(
                    Also(
                        Obj(
                            ["id"],
                            new()
                            {
                                ["id"] = Text,
                                ["name"] = Text,
                                ["carrier"] = Text,
                                ["places"] = Ref("places"),
                                ["price"] = Amount,
                                ["bands"] = List(Obj(["price"], new() { ["toGrams"] = Whole(0), ["price"] = Amount }), 1),
                                ["cost"] = Amount,
                            }
                        ),
                        If(Way(["price"], []), Way([], ["bands"]), Way(["bands"], []))
                    )
                ),
                ["tax"] = Obj(
                    ["mode"],
                    new()
                    {
                        ["mode"] = Words("none", "inclusive", "exclusive"),
                        ["shippingClass"] = Text,
                        ["rates"] = List(
                            Obj(
                                ["class", "place", "percent"],
                                new()
                                {
                                    ["class"] = Text,
                                    ["place"] = Text,
                                    ["percent"] = Percent,
                                }
                            )
                        ),
                    }
                ),
                ["marginFloor"] = Percent,
                ["language"] = Text,
            }
        );

    private static JsonObject Catalogue() =>
        Obj(
            [],
            new()
            {
                ["categories"] = List(
                    Obj(
                        ["id", "name"],
                        new()
                        {
                            ["id"] = Text,
                            ["name"] = Text,
                            ["parent"] = new JsonObject { ["type"] = new JsonArray("string", "null") },
                            ["gone"] = Flag,
                        }
                    )
                ),
                ["products"] = List(
                    Obj(
                        ["id", "name", "variants"],
                        new()
                        {
                            ["id"] = Text,
                            ["name"] = Text,
                            ["category"] = Text,
                            ["brand"] = Text,
                            ["tags"] = List(Text),
                            ["taxClass"] = Text,
                            ["gone"] = Flag,
                            ["variants"] = List(
                                Obj(
                                    ["sku", "regular"],
                                    new()
                                    {
                                        ["sku"] = Text,
                                        ["options"] = Map(Text),
                                        ["regular"] = Amount,
                                        ["price"] = Amount,
                                        ["prices"] = Map(Obj(["regular"], new() { ["regular"] = Minor, ["price"] = Minor })),
                                        ["cost"] = Amount,
                                        ["grams"] = Whole(0),
                                        ["stock"] = Whole(0),
                                        ["gone"] = Flag,
                                    }
                                )
                            ),
                        }
                    )
                ),
            }
        );

    private static JsonObject Cart() =>
        Obj(
            ["at", "lines"],
            new()
            {
                ["at"] = Text,
                ["currency"] = Text,
                ["channel"] = Text,
                ["method"] = Text,
                ["destination"] = Text,
                ["shopper"] = Obj(
                    [],
                    new()
                    {
                        ["id"] = Text,
                        ["groups"] = List(Text),
                        ["orders"] = Whole(0),
                        ["spent"] = Minor,
                    }
                ),
                ["codes"] = List(Text),
                ["picks"] = Map(List(Text)),
                ["guestKey"] = Text,
                ["language"] = Text,
                ["lines"] = List(Obj(["sku", "quantity"], new() { ["sku"] = Text, ["quantity"] = Whole(1) })),
            }
        );
}
