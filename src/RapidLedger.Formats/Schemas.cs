using System.Text.Json.Nodes;
using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>
/// The JSON Schemas (2020-12) of a case, a promotion and a result. They tell the form; what must hold between members is told by the reader.
/// </summary>
public static partial class Schemas
{
    private const string Dialect = "https://json-schema.org/draft/2020-12/schema";

    private static JsonObject Text => new() { ["type"] = "string" };

    private static JsonObject Flag => new() { ["type"] = "boolean" };

    private static JsonObject Percent => new() { ["type"] = "number", ["minimum"] = 0, ["maximum"] = 100 };

    private static JsonObject Amount => OneOf(Minor, new JsonObject { ["type"] = "object", ["propertyNames"] = new JsonObject { ["pattern"] = "^[A-Z]{3}$" }, ["additionalProperties"] = Minor, ["minProperties"] = 1 });

    // An amount where money is measured, else a number of units.
    private static JsonObject Figure => new() { ["anyOf"] = new JsonArray(Minor, Whole(0)) };

    private static JsonObject Texts => new() { ["anyOf"] = new JsonArray(Text, Map(Text)) };

    private static JsonObject Minor => new() { ["type"] = "string", ["pattern"] = @"^\d+(\.\d{1,3})?$" };

    private static JsonObject Signed => new() { ["type"] = new JsonArray("string", "null"), ["pattern"] = @"^-?\d+(\.\d{1,3})?$" };

    /// <summary>A case.</summary>
    public static JsonObject Case() => Root("A case", With(
        Obj(["store", "catalogue", "promotions", "cart"], new()
        {
            ["$schema"] = Text,
            ["title"] = Text,
            ["store"] = Store(),
            ["catalogue"] = Catalogue(),
            ["promotions"] = List(Ref("promotion")),
            ["batches"] = Map(Obj(["codes"], new()
            {
                ["usesEach"] = new JsonObject { ["anyOf"] = new JsonArray(Whole(1), Words("any")) },
                ["lastDay"] = Text,
                ["void"] = Flag,
                ["codes"] = Map(Obj([], new() { ["used"] = Whole(0), ["void"] = Flag, ["drawn"] = Minor })),
            })),
            ["usage"] = Map(Obj([], new() { ["total"] = Whole(0), ["shopper"] = Whole(0), ["today"] = Whole(0), ["budget"] = Minor, ["drawn"] = Minor })),
            ["cart"] = Cart(),
            ["expect"] = new JsonObject { ["type"] = "object" },
        })));

    /// <summary>A promotion.</summary>
    public static JsonObject Promotion() => Root("A promotion", With(Ref("promotion")));

    /// <summary>A result.</summary>
    public static JsonObject Result() => Root("A result", new JsonObject
    {
        ["oneOf"] = new JsonArray(
            Obj(["problems"], new() { ["problems"] = List(Obj(["at", "code", "message"], new() { ["at"] = Text, ["code"] = Text, ["message"] = Text })) }),
            Obj(["currency", "lines", "gifts", "promotions", "codes", "totals", "taxes", "proved", "nudges"], new()
            {
                ["currency"] = Text,
                ["lines"] = List(Obj(["sku", "quantity", "regular", "goods", "net", "cost", "margin", "parts"], new()
                {
                    ["sku"] = Text,
                    ["quantity"] = Whole(1),
                    ["regular"] = Signed,
                    ["goods"] = Signed,
                    ["net"] = Signed,
                    ["cost"] = Signed,
                    ["margin"] = Signed,
                    ["parts"] = List(Obj(["promotion", "amount"], new() { ["promotion"] = Text, ["amount"] = Signed })),
                })),
                ["gifts"] = List(Obj(["promotion", "sku", "quantity", "value", "net"], new() { ["promotion"] = Text, ["sku"] = Text, ["quantity"] = Whole(1), ["value"] = Signed, ["net"] = Signed })),
                ["promotions"] = List(OneOf(
                    Obj(["id", "applied", "amount", "units"], new()
                    {
                        ["id"] = Text,
                        ["applied"] = Always(true),
                        ["amount"] = Minor,
                        ["units"] = Whole(0),
                        ["toPick"] = Obj(["skus", "units"], new() { ["skus"] = List(Text, 1), ["units"] = Whole(1) }),
                        ["giftOut"] = Always(true),
                        ["shopper"] = Text,
                    }),
                    Obj(["id", "applied", "reason", "message"], new()
                    {
                        ["id"] = Text,
                        ["applied"] = Always(false),
                        ["reason"] = Words(Reasons),
                        ["message"] = Text,
                        ["blockedBy"] = List(Text, 1),
                    }))),
                ["codes"] = List(Obj(["code", "status"], new() { ["code"] = Text, ["status"] = Words(["applied", "unknown", "notNeeded", .. Reasons]), ["promotion"] = Text, ["amount"] = Minor, ["shopper"] = Text })),
                ["progress"] = List(Obj(["promotion", "measure", "at", "steps"], new()
                {
                    ["promotion"] = Text,
                    ["measure"] = Words("spend", "quantity"),
                    ["at"] = Figure,
                    ["steps"] = List(Obj(["from", "reached", "shopper"], new() { ["from"] = Figure, ["reached"] = Flag, ["shopper"] = Text }), 1),
                })),
                ["totals"] = Totals(),
                ["taxes"] = List(Obj(["class", "percent", "base", "tax"], new() { ["class"] = Text, ["percent"] = Percent, ["base"] = Signed, ["tax"] = Signed })),
                ["proved"] = Flag,
                ["gap"] = Minor,
                ["nudges"] = List(Obj(["promotion", "add", "saves", "message", "shopper"], new()
                {
                    ["promotion"] = Text,
                    ["spend"] = Minor,
                    ["units"] = Whole(1),
                    ["add"] = List(Obj(["sku", "quantity"], new() { ["sku"] = Text, ["quantity"] = Whole(1) }), 1),
                    ["saves"] = Minor,
                    ["message"] = Text,
                    ["shopper"] = Text,
                })),
            })),
    });

    private static readonly string[] Reasons =
    [
        "codeNotEntered", "codeUsedUp", "codeVoid", "codeEnded", "notStarted", "ended", "betweenOccurrences", "limitReached", "shopperLimitReached", "conditionNotMet", "giftOut", "noMatchingItems",
        "cannotMeet", "notBetter", "nothingLeft", "failed",
    ];

    private static readonly string[] Sums = ["regular", "goods", "discount", "net", "giftValue", "shipping", "shippingDiscount", "tax", "total", "credit", "due", "saving"];

    private static JsonObject SumMembers() => new(Sums.Select(name => KeyValuePair.Create<string, JsonNode?>(name, Minor)));

    private static JsonObject Totals()
    {
        var members = SumMembers();
        foreach (var name in (string[])["margin", "contribution"]) members[name] = Signed;
        members["points"] = Whole(0);
        members["shippingUnavailable"] = Always(true);
        return Obj([.. Sums, "margin", "contribution", "points"], members);
    }

    private static JsonObject Always(bool value) => new() { ["const"] = value };

    private static JsonObject Definitions() => new()
    {
        ["selection"] = Obj(["in"], new() { ["in"] = List(Ref("term"), 1), ["out"] = List(Ref("term")), ["fullPriceOnly"] = Flag, ["priceFrom"] = Amount, ["priceTo"] = Amount }),
        ["term"] = One(("all", Flag), ("category", Text), ("brand", Text), ("product", Text), ("sku", Text), ("tag", Text)),
        ["take"] = One(("percent", Percent), ("amount", Amount), ("price", Amount)),
        ["places"] = Obj([], new() { ["in"] = List(Text, 1), ["out"] = List(Text) }),
        ["condition"] = Condition(),
        ["reward"] = new JsonObject { ["oneOf"] = new JsonArray([.. Rewards().ByName().Select(kind => Kind(kind.Key, kind.Value))]) },
        ["stepReward"] = new JsonObject { ["oneOf"] = new JsonArray([.. OnStep().Select(kind => Kind(kind.Name, kind.Form))]) },
        ["promotion"] = PromotionForm(),
    };

    private static JsonObject PromotionForm() => Obj(["id", "rewards"], new()
    {
        ["id"] = Text,
        ["name"] = Text,
        ["label"] = Texts,
        ["note"] = Text,
        ["state"] = Words("draft", "live", "paused", "archived"),
        ["rank"] = Whole(0),
        ["trigger"] = new JsonObject { ["oneOf"] = new JsonArray(Obj(["automatic"], new() { ["automatic"] = Flag }), Obj(["codes"], new() { ["codes"] = List(Text, 1), ["batches"] = List(Text, 1) }), Obj(["batches"], new() { ["batches"] = List(Text, 1) })) },
        ["window"] = Needs(Obj([], new() { ["start"] = Text, ["end"] = Text, ["graceMinutes"] = Whole(0, Window.MostGrace), ["repeat"] = Text, ["lasts"] = Text }), ("repeat", ["start", "lasts"]), ("lasts", ["repeat"])),
        ["when"] = Ref("condition"),
        ["rewards"] = List(Ref("reward"), 1),
        ["limits"] = Obj([], new() { ["total"] = Whole(0), ["perShopper"] = Whole(0), ["perDay"] = Whole(0), ["budget"] = Minor }),
        ["stacking"] = OneWay(Obj([], new() { ["allow"] = Words("any", "none", "only", "except"), ["with"] = List(Text), ["family"] = Text }), Way([], ["with"], ("allow", Words("any", "none"))), Way(["allow", "with"], [], ("allow", Words("only", "except")))),
        ["says"] = Obj([], new() { ["near"] = Texts, ["reached"] = Texts, ["refused"] = Texts, ["show"] = List(Words("item", "basket", "today")) }),
    });

    private static JsonObject Condition()
    {
        var parts = List(Ref("condition"));
        static JsonObject Op() => Words(">=", ">", "=", "!=", "<", "<=");
        var count = Obj(["op", "n"], new() { ["of"] = Ref("selection"), ["op"] = Op(), ["n"] = Whole(0) });
        var kinds = new ConditionKinds<JsonObject>
        {
            All = parts,
            Any = parts,
            None = parts,
            Spend = Obj([], new() { ["of"] = Ref("selection"), ["from"] = Amount, ["to"] = Amount, ["basis"] = Words("before", "after") }),
            Quantity = count,
            Distinct = count,
            Only = Ref("selection"),
            Weight = Obj(["op", "grams"], new() { ["op"] = Op(), ["grams"] = Whole(0) }),
            Shopper = One(("is", Words("guest", "signedIn")), ("groups", List(Text, 1)), ("ids", List(Text, 1)), ("orders", Obj(["op", "n"], new() { ["op"] = Op(), ["n"] = Whole(0) })), ("spent", Obj([], new() { ["from"] = Amount, ["to"] = Amount }))),
            Destination = Ref("places"),
            Channel = List(Text, 1),
            Currency = List(Text, 1),
            Method = List(Text, 1),
        };
        return One([.. kinds.ByName().Select(kind => (kind.Key, kind.Value))]);
    }

    // The names it must have, the members, and the ways of which it takes exactly one, if there are any.
    private sealed record Form(string[] Required, JsonObject Members, params JsonObject[] Ways);

    private static Form DiscountForm(params string[] required) =>
        new(required, new() { ["on"] = Ref("selection"), ["take"] = Ref("take"), ["per"] = Words("unit", "cart"), ["pick"] = Words("cheapest", "dearest"), ["maxUnits"] = Whole(1), ["maxDiscount"] = Amount });

    // On a step of a ladder a discount may leave out what it is on, and some kinds have no place.
    private static IEnumerable<(string Name, Form Form)> OnStep() =>
        (Rewards() with { Discount = DiscountForm("take", "per") }).ByName().Where(kind => RewardReader.StandsOnStep(kind.Key)).Select(kind => (kind.Key, kind.Value));

    private static RewardKinds<Form> Rewards()
    {
        static JsonObject Pick() => Words("cheapest", "dearest");
        var row = Obj(["buy", "get"], new() { ["buy"] = Whole(1), ["get"] = Whole(1) });
        var (with, without) = (new JsonObject { ["required"] = new JsonArray("take") }, new JsonObject { ["not"] = new JsonObject { ["required"] = new JsonArray("take") } });
        var once = OneOf(Words("once", "every"), Obj(["atMost"], new() { ["atMost"] = Whole(1) }));
        return new()
        {
            Discount = DiscountForm("on", "take", "per"),
            BuyGet = new(
                ["buy", "get"],
                new()
                {
                    ["buy"] = Obj(["of"], new() { ["of"] = Ref("selection"), ["quantity"] = Whole(1), ["spend"] = Amount }),
                    ["get"] = Obj(["take"], new() { ["of"] = Ref("selection"), ["quantity"] = Whole(1), ["take"] = Ref("take"), ["pick"] = Pick() }),
                    ["same"] = Words("sku", "product"),
                    ["repeat"] = OneOf(Words("once", "every"), One(("atMost", Whole(1)), ("schedule", List(row, 1)))),
                },
                // By quantity, by spend, by a schedule; and the first and the last of these of the same.
                Way([], ["same"], ("buy", Way(["quantity"], ["spend"])), ("get", Way(["of", "quantity"], [])), ("repeat", once)),
                Way([], ["same"], ("buy", Way(["spend"], ["quantity"])), ("get", Way(["of", "quantity"], [])), ("repeat", once)),
                Way(["repeat"], ["same"], ("buy", Way([], ["quantity", "spend"])), ("get", Way(["of"], ["quantity"])), ("repeat", Way(["schedule"], []))),
                Way(["same"], [], ("buy", Way(["quantity"], ["spend"])), ("get", Way(["quantity"], ["of"])), ("repeat", once)),
                Way(["same", "repeat"], [], ("buy", Way([], ["quantity", "spend"])), ("get", Way([], ["of", "quantity"])), ("repeat", Way(["schedule"], [])))),
            Ladder = new(["measure", "of", "apply", "steps"], new()
            {
                ["measure"] = Words("quantity", "spend"),
                ["of"] = Ref("selection"),
                ["apply"] = Words("highest", "all", "beyond"),
                ["steps"] = List(Obj(["from", "rewards"], new() { ["from"] = new JsonObject { ["anyOf"] = new JsonArray(Whole(1), Amount) }, ["rewards"] = List(Ref("stepReward"), 1) }), 1),
            }),
            Bundle = new(
                ["slots"],
                new() { ["slots"] = List(Obj(["of", "quantity"], new() { ["of"] = Ref("selection"), ["quantity"] = Whole(1), ["take"] = Ref("take") }), 1), ["take"] = Ref("take"), ["repeat"] = once, ["fill"] = Pick() },
                Way(["take"], [], ("slots", new JsonObject { ["items"] = without })),
                Way([], ["take"], ("slots", new JsonObject { ["contains"] = with }))),
            Gift = new(
                ["give"],
                new()
                {
                    ["give"] = One(("skus", List(Text, 1)), ("sameAs", Ref("selection"))),
                    ["quantity"] = Whole(1),
                    ["times"] = OneOf(Words("once"), Obj(["per"], new() { ["per"] = Obj([], new() { ["of"] = Ref("selection"), ["quantity"] = Whole(1), ["spend"] = Amount }) })),
                    ["atMost"] = Whole(1),
                    ["picked"] = Flag,
                    ["take"] = Ref("take"),
                },
                Way([], [], ("give", Way(["sameAs"], [])), ("times", TimesBy(Way(["quantity"], ["of", "spend"])))),
                Way([], [], ("give", Way(["skus"], [])), ("times", TimesBy(OneWay([], Way(["of", "quantity"], ["spend"]), Way(["of", "spend"], ["quantity"])))))),
            Markdown = new(["levels"], new() { ["levels"] = List(Obj(["on", "take"], new() { ["on"] = Ref("selection"), ["take"] = Ref("take") }), 1) }),
            Shipping = new(["take"], new() { ["methods"] = List(Text, 1), ["take"] = Ref("take"), ["maxDiscount"] = Amount }),
            Points = new([], new() { ["fixed"] = Whole(1), ["each"] = Amount, ["points"] = Whole(1) }, Way(["fixed"], ["each", "points"]), Way(["each", "points"], ["fixed"])),
            Credit = new(["amount", "keepRest"], new() { ["amount"] = Amount, ["keepRest"] = Flag }),
        };

        // Once, or by what is said of it.
        static JsonObject TimesBy(JsonObject per) => new() { ["anyOf"] = new JsonArray(Words("once"), Way(["per"], [], ("per", per))) };
    }

    private static JsonObject Store() => Obj(["currency"], new()
    {
        ["currency"] = Text,
        ["timeZone"] = Text,
        ["rounding"] = Words("halfUp", "halfEven"),
        ["policy"] = Words("best", "rank"),
        ["rates"] = Map(Text),
        ["families"] = List(Obj(["name"], new() { ["name"] = Text, ["onePerCart"] = Flag })),
        ["shipping"] = List(OneWay(
            Obj(["id"], new() { ["id"] = Text, ["name"] = Text, ["carrier"] = Text, ["places"] = Ref("places"), ["price"] = Amount, ["bands"] = List(Obj(["price"], new() { ["toGrams"] = Whole(0), ["price"] = Amount }), 1), ["cost"] = Amount }),
            Way(["price"], ["bands"]),
            Way(["bands"], ["price"]))),
        ["tax"] = Obj(["mode"], new() { ["mode"] = Words("none", "inclusive", "exclusive"), ["shippingClass"] = Text, ["rates"] = List(Obj(["class", "place", "percent"], new() { ["class"] = Text, ["place"] = Text, ["percent"] = Percent })) }),
        ["marginFloor"] = Percent,
        ["language"] = Text,
    });

    private static JsonObject Catalogue() => Obj([], new()
    {
        ["categories"] = List(Obj(["id", "name"], new() { ["id"] = Text, ["name"] = Text, ["parent"] = new JsonObject { ["type"] = new JsonArray("string", "null") } })),
        ["products"] = List(Obj(["id", "name", "variants"], new()
        {
            ["id"] = Text,
            ["name"] = Text,
            ["category"] = Text,
            ["brand"] = Text,
            ["tags"] = List(Text),
            ["taxClass"] = Text,
            ["variants"] = List(Obj(["sku", "regular"], new() { ["sku"] = Text, ["options"] = Map(Text), ["regular"] = Amount, ["price"] = Amount, ["cost"] = Amount, ["grams"] = Whole(0), ["stock"] = Whole(0) })),
        })),
    });

    private static JsonObject Cart() => Obj(["at", "lines"], new()
    {
        ["at"] = Text,
        ["currency"] = Text,
        ["channel"] = Text,
        ["method"] = Text,
        ["destination"] = Text,
        ["shopper"] = Obj([], new() { ["id"] = Text, ["groups"] = List(Text), ["orders"] = Whole(0), ["spent"] = Minor }),
        ["codes"] = List(Text),
        ["picks"] = Map(List(Text)),
        ["guestKey"] = Text,
        ["language"] = Text,
        ["lines"] = List(Obj(["sku", "quantity"], new() { ["sku"] = Text, ["quantity"] = Whole(1) })),
    });

    private static JsonObject Root(string title, JsonObject schema)
    {
        var root = new JsonObject { ["$schema"] = Dialect, ["$id"] = $"urn:rapid-ledger:{title.Split(' ')[^1]}", ["title"] = title };
        foreach (var (name, value) in schema) root[name] = value?.DeepClone();
        return root;
    }

    private static JsonObject With(JsonObject schema)
    {
        schema["$defs"] = Definitions();
        return schema;
    }

    private static JsonObject Ref(string name) => new() { ["$ref"] = $"#/$defs/{name}" };

    private static JsonObject Whole(int least, int? most = null)
    {
        var whole = new JsonObject { ["type"] = "integer", ["minimum"] = least };
        if (most is { } bound) whole["maximum"] = bound;
        return whole;
    }

    private static JsonObject Words(params string[] words) => new() { ["enum"] = new JsonArray([.. words.Select(word => (JsonNode)word)]) };

    private static JsonObject OneOf(params JsonObject[] forms) => new() { ["oneOf"] = new JsonArray([.. forms.Select(form => form.DeepClone())]) };

    private static JsonObject Map(JsonObject of) => new() { ["type"] = "object", ["additionalProperties"] = of };

    private static JsonObject List(JsonObject of, int least = 0)
    {
        var list = new JsonObject { ["type"] = "array", ["items"] = of.DeepClone() };
        if (least > 0) list["minItems"] = least;
        return list;
    }

    private static JsonObject Kind(string name, Form form)
    {
        form.Members["kind"] = new JsonObject { ["const"] = name };
        return OneWay(Obj(["kind", .. form.Required], form.Members), form.Ways);
    }

    private static JsonObject OneWay(JsonObject form, params JsonObject[] ways)
    {
        if (ways.Length > 0) form["oneOf"] = new JsonArray([.. ways]);
        return form;
    }

    // What must be there, what must not, and what must be so where it is there.
    private static JsonObject Way(string[] there, string[] notThere, params (string Name, JsonObject Form)[] so)
    {
        var way = new JsonObject();
        if (there.Length > 0) way["required"] = new JsonArray([.. there.Select(name => (JsonNode)name)]);
        if (notThere.Length > 0) way["not"] = new JsonObject { ["anyOf"] = new JsonArray([.. notThere.Select(name => new JsonObject { ["required"] = new JsonArray(name) })]) };
        if (so.Length > 0) way["properties"] = new JsonObject(so.Select(one => KeyValuePair.Create<string, JsonNode?>(one.Name, one.Form.DeepClone())));
        return way;
    }

    private static JsonObject Needs(JsonObject form, params (string Name, string[] Others)[] needs)
    {
        form["dependentRequired"] = new JsonObject(needs.Select(one => KeyValuePair.Create<string, JsonNode?>(one.Name, new JsonArray([.. one.Others.Select(name => (JsonNode)name)]))));
        return form;
    }

    private static JsonObject One(params (string Name, JsonObject Form)[] members)
    {
        var one = Obj([], new JsonObject(members.Select(member => KeyValuePair.Create<string, JsonNode?>(member.Name, member.Form.DeepClone()))));
        one["minProperties"] = 1;
        one["maxProperties"] = 1;
        return one;
    }

    private static JsonObject Obj(string[] required, JsonObject members)
    {
        var properties = new JsonObject();
        foreach (var (name, value) in members) properties[name] = value!.DeepClone();
        var schema = new JsonObject { ["type"] = "object", ["properties"] = properties, ["additionalProperties"] = false };
        if (required.Length > 0) schema["required"] = new JsonArray([.. required.Select(name => (JsonNode)name)]);
        return schema;
    }
}
