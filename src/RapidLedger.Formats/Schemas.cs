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

    private static JsonObject ResultForm() =>
        If(
            Way(["problems"], []),
            Obj(
                ["problems"],
                new()
                {
                    ["problems"] = List(
                        Obj(
                            ["at", "code", "message"],
                            new()
                            {
                                ["at"] = Text,
                                ["code"] = Text,
                                ["message"] = Text,
                            }
                        )
                    ),
                }
            ),
            Obj(
                ["currency", "lines", "gifts", "promotions", "codes", "totals", "taxes", "proved", "nudges"],
                new()
                {
                    ["currency"] = Text,
                    ["lines"] = List(
                        Obj(
                            ["sku", "quantity", "regular", "goods", "net", "cost", "margin", "parts"],
                            new()
                            {
                                ["sku"] = Text,
                                ["quantity"] = Whole(1),
                                ["regular"] = Signed,
                                ["goods"] = Signed,
                                ["net"] = Signed,
                                ["cost"] = Signed,
                                ["margin"] = Signed,
                                ["parts"] = List(Obj(["promotion", "amount"], new() { ["promotion"] = Text, ["amount"] = Signed })),
                            }
                        )
                    ),
                    ["gifts"] = List(
                        Obj(
                            ["promotion", "sku", "quantity", "value", "net"],
                            new()
                            {
                                ["promotion"] = Text,
                                ["sku"] = Text,
                                ["quantity"] = Whole(1),
                                ["value"] = Signed,
                                ["net"] = Signed,
                            }
                        )
                    ),
                    ["promotions"] = List(
                        If(
                            Way(["applied"], [], ("applied", Always(true))),
                            Obj(
                                ["id", "applied", "amount", "units"],
                                new()
                                {
                                    ["id"] = Text,
                                    ["applied"] = Always(true),
                                    ["amount"] = Minor,
                                    ["units"] = Whole(0),
                                    ["toPick"] = Obj(["skus", "units"], new() { ["skus"] = List(Text, 1), ["units"] = Whole(1) }),
                                    ["giftOut"] = Always(true),
                                    ["shopper"] = Text,
                                }
                            ),
                            Obj(
                                ["id", "applied", "reason", "message"],
                                new()
                                {
                                    ["id"] = Text,
                                    ["applied"] = Always(false),
                                    ["reason"] = Words(Reasons),
                                    ["message"] = Text,
                                    ["blockedBy"] = List(Text, 1),
                                }
                            )
                        )
                    ),
                    ["codes"] = List(
                        Obj(
                            ["code", "status"],
                            new()
                            {
                                ["code"] = Text,
                                ["status"] = Words(["applied", "unknown", "notNeeded", .. Reasons]),
                                ["promotion"] = Text,
                                ["amount"] = Minor,
                                ["shopper"] = Text,
                            }
                        )
                    ),
                    ["progress"] = List(
                        Obj(
                            ["promotion", "measure", "at", "steps"],
                            new()
                            {
                                ["promotion"] = Text,
                                ["measure"] = Words("spend", "quantity"),
                                ["at"] = Figure,
                                ["steps"] = List(
                                    Obj(
                                        ["from", "reached", "shopper"],
                                        new()
                                        {
                                            ["from"] = Figure,
                                            ["reached"] = Flag,
                                            ["shopper"] = Text,
                                        }
                                    ),
                                    1
                                ),
                            }
                        )
                    ),
                    ["totals"] = Totals(),
                    ["taxes"] = List(
                        Obj(
                            ["class", "percent", "base", "tax"],
                            new()
                            {
                                ["class"] = Text,
                                ["percent"] = Percent,
                                ["base"] = Signed,
                                ["tax"] = Signed,
                            }
                        )
                    ),
                    ["proved"] = Flag,
                    ["gap"] = Minor,
                    ["nudges"] = List(
                        Obj(
                            ["promotion", "add", "saves", "message", "shopper"],
                            new()
                            {
                                ["promotion"] = Text,
                                ["spend"] = Minor,
                                ["units"] = Whole(1),
                                ["add"] = List(Obj(["sku", "quantity"], new() { ["sku"] = Text, ["quantity"] = Whole(1) }), 1),
                                ["saves"] = Minor,
                                ["message"] = Text,
                                ["shopper"] = Text,
                            }
                        )
                    ),
                }
            )
        );

    private static readonly string[] Reasons =
    [
        "codeNotEntered",
        "codeUsedUp",
        "codeVoid",
        "codeEnded",
        "notStarted",
        "ended",
        "betweenOccurrences",
        "limitReached",
        "shopperLimitReached",
        "conditionNotMet",
        "giftOut",
        "noMatchingItems",
        "cannotMeet",
        "notBetter",
        "nothingLeft",
        "failed",
    ];

    private static readonly string[] Sums =
    [
        "regular",
        "goods",
        "discount",
        "net",
        "giftValue",
        "shipping",
        "shippingDiscount",
        "tax",
        "total",
        "credit",
        "due",
        "saving",
    ];

    private static JsonObject SumMembers() => new(Sums.Select(name => KeyValuePair.Create<string, JsonNode?>(name, Minor)));

    private static JsonObject Totals()
    {
        var members = SumMembers();
        foreach (var name in (string[])["margin", "contribution"])
            members[name] = Signed;
        members["points"] = Whole(0);
        members["shippingUnavailable"] = Always(true);
        return Obj([.. Sums, "margin", "contribution", "points"], members);
    }

    private static JsonObject Always(bool value) => new() { ["const"] = value };

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
            ["term"] = One(("all", Flag), ("category", Text), ("brand", Text), ("product", Text), ("sku", Text), ("tag", Text)),
            ["take"] = One(("percent", Percent), ("amount", Amount), ("price", Amount)),
            ["places"] = Obj([], new() { ["in"] = List(Text, 1), ["out"] = List(Text) }),
            ["condition"] = Condition(),
            ["reward"] = ByKind(Rewards().ByName().Select(kind => (kind.Key, kind.Value))),
            ["stepReward"] = ByKind(OnStep()),
            ["promotion"] = PromotionForm(),
        };

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

    private static JsonObject Condition()
    {
        var parts = List(Ref("condition"));
        static JsonObject Op() => Words(">=", ">", "=", "!=", "<", "<=");
        var count = Obj(
            ["op", "n"],
            new()
            {
                ["of"] = Ref("selection"),
                ["op"] = Op(),
                ["n"] = Whole(0),
            }
        );
        var kinds = new ConditionKinds<JsonObject>
        {
            All = parts,
            Any = parts,
            None = parts,
            Spend = Obj(
                [],
                new()
                {
                    ["of"] = Ref("selection"),
                    ["from"] = Amount,
                    ["to"] = Amount,
                    ["basis"] = Words("before", "after"),
                }
            ),
            Quantity = count,
            Distinct = count,
            Only = Ref("selection"),
            Weight = Obj(["op", "grams"], new() { ["op"] = Op(), ["grams"] = Whole(0) }),
            Shopper = One(
                ("is", Words("guest", "signedIn")),
                ("groups", List(Text, 1)),
                ("ids", List(Text, 1)),
                ("orders", Obj(["op", "n"], new() { ["op"] = Op(), ["n"] = Whole(0) })),
                ("spent", Obj([], new() { ["from"] = Amount, ["to"] = Amount }))
            ),
            Destination = Ref("places"),
            Channel = List(Text, 1),
            Currency = List(Text, 1),
            Method = List(Text, 1),
        };
        return One([.. kinds.ByName().Select(kind => (kind.Key, kind.Value))]);
    }

    // The names it must have, the members, and what must hold between them.
    private sealed record Form(string[] Required, JsonObject Members, params JsonObject[] Rules);

    private static Form DiscountForm(params string[] required) =>
        new(
            required,
            new()
            {
                ["on"] = Ref("selection"),
                ["take"] = Ref("take"),
                ["per"] = Words("unit", "cart"),
                ["pick"] = Words("cheapest", "dearest"),
                ["maxUnits"] = Whole(1),
                ["maxDiscount"] = Amount,
            }
        );

    // On a step of a ladder a discount may leave out what it is on, and some kinds have no place.
    private static IEnumerable<(string Name, Form Form)> OnStep() =>
        (Rewards() with { Discount = DiscountForm("take", "per") })
            .ByName()
            .Where(kind => RewardReader.StandsOnStep(kind.Key))
            .Select(kind => (kind.Key, kind.Value));

    private static RewardKinds<Form> Rewards()
    {
        static JsonObject Pick() => Words("cheapest", "dearest");
        var row = Obj(["buy", "get"], new() { ["buy"] = Whole(1), ["get"] = Whole(1) });
        var once = TextOr(Words("once", "every"), Obj(["atMost"], new() { ["atMost"] = Whole(1) }));
        var bySchedule = Way(["repeat"], [], ("repeat", Way([], ["atMost"])));
        return new()
        {
            Discount = DiscountForm("on", "take", "per"),
            BuyGet = new(
                ["buy", "get"],
                new()
                {
                    ["buy"] = Obj(
                        ["of"],
                        new()
                        {
                            ["of"] = Ref("selection"),
                            ["quantity"] = Whole(1),
                            ["spend"] = Amount,
                        }
                    ),
                    ["get"] = Obj(
                        ["take"],
                        new()
                        {
                            ["of"] = Ref("selection"),
                            ["quantity"] = Whole(1),
                            ["take"] = Ref("take"),
                            ["pick"] = Pick(),
                        }
                    ),
                    ["same"] = Words("sku", "product"),
                    ["repeat"] = TextOr(Words("once", "every"), One(("atMost", Whole(1)), ("schedule", List(row, 1)))),
                },
                // Of the same there is nothing else to get. By a schedule, which tells the quantities; else by quantity or by spend.
                If(Way(["same"], []), Way([], [], ("get", Way([], ["of"]))), Way([], [], ("get", Way(["of"], [])))),
                If(
                    bySchedule,
                    Way([], [], ("buy", Way([], ["quantity", "spend"])), ("get", Way([], ["quantity"]))),
                    Way(
                        [],
                        [],
                        ("buy", If(Way(["spend"], []), Way([], ["quantity"]), Way(["quantity"], []))),
                        ("get", Way(["quantity"], []))
                    )
                ),
                If(Way([], [], ("buy", Way(["spend"], []))), Way([], ["same"]))
            ),
            Ladder = new(
                ["measure", "of", "apply", "steps"],
                new()
                {
                    ["measure"] = Words("quantity", "spend"),
                    ["of"] = Ref("selection"),
                    ["apply"] = Words("highest", "all", "beyond"),
                    ["steps"] = List(
                        Obj(
                            ["from", "rewards"],
                            new()
                            {
                                ["from"] = If(new() { ["type"] = "number" }, Whole(1), Amount),
                                ["rewards"] = List(Ref("stepReward"), 1),
                            }
                        ),
                        1
                    ),
                }
            ),
            Bundle = new(
                ["slots"],
                new()
                {
                    ["slots"] = List(
                        Obj(
                            ["of", "quantity"],
                            new()
                            {
                                ["of"] = Ref("selection"),
                                ["quantity"] = Whole(1),
                                ["take"] = Ref("take"),
                            }
                        ),
                        1
                    ),
                    ["take"] = Ref("take"),
                    ["repeat"] = once,
                    ["fill"] = Pick(),
                },
                If(
                    Way(["take"], []),
                    Way([], [], ("slots", new() { ["type"] = "array", ["items"] = Way([], ["take"]) })),
                    Way(
                        [],
                        [],
                        (
                            "slots",
                            new()
                            {
                                ["type"] = "array",
                                ["not"] = new JsonObject { ["items"] = Way([], ["take"]) },
                            }
                        )
                    )
                )
            ),
            Gift = new(
                ["give"],
                new()
                {
                    ["give"] = One(("skus", List(Text, 1)), ("sameAs", Ref("selection"))),
                    ["quantity"] = Whole(1),
                    ["times"] = TextOr(
                        Words("once"),
                        Obj(
                            ["per"],
                            new()
                            {
                                ["per"] = Obj(
                                    [],
                                    new()
                                    {
                                        ["of"] = Ref("selection"),
                                        ["quantity"] = Whole(1),
                                        ["spend"] = Amount,
                                    }
                                ),
                            }
                        )
                    ),
                    ["atMost"] = Whole(1),
                    ["picked"] = Flag,
                    ["take"] = Ref("take"),
                },
                If(
                    Way([], [], ("times", Way([], []))),
                    If(
                        Way([], [], ("give", Way(["skus"], []))),
                        Way(
                            [],
                            [],
                            ("times", Way([], [], ("per", If(Way(["spend"], []), Way(["of"], ["quantity"]), Way(["of", "quantity"], [])))))
                        ),
                        Way([], [], ("times", Way([], [], ("per", Way(["quantity"], ["of", "spend"])))))
                    )
                )
            ),
            Markdown = new(
                ["levels"],
                new() { ["levels"] = List(Obj(["on", "take"], new() { ["on"] = Ref("selection"), ["take"] = Ref("take") }), 1) }
            ),
            Shipping = new(
                ["take"],
                new()
                {
                    ["methods"] = List(Text, 1),
                    ["take"] = Ref("take"),
                    ["maxDiscount"] = Amount,
                }
            ),
            Points = new(
                [],
                new()
                {
                    ["fixed"] = Whole(1),
                    ["each"] = Amount,
                    ["points"] = Whole(1),
                },
                If(Way(["fixed"], []), Way([], ["each", "points"]), Way(["each", "points"], []))
            ),
            Credit = new(["amount", "keepRest"], new() { ["amount"] = Amount, ["keepRest"] = Flag }),
        };
    }

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
                            ["variants"] = List(
                                Obj(
                                    ["sku", "regular"],
                                    new()
                                    {
                                        ["sku"] = Text,
                                        ["options"] = Map(Text),
                                        ["regular"] = Amount,
                                        ["price"] = Amount,
                                        ["cost"] = Amount,
                                        ["grams"] = Whole(0),
                                        ["stock"] = Whole(0),
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

    private static JsonObject Root(string title, JsonObject schema)
    {
        var root = new JsonObject
        {
            ["$schema"] = Dialect,
            ["$id"] = $"urn:rapid-ledger:{title.Split(' ')[^1]}",
            ["title"] = title,
        };
        foreach (var (name, value) in schema)
            root[name] = value?.DeepClone();
        return Told(root, title.Split(' ')[^1]);
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
        if (most is { } bound)
            whole["maximum"] = bound;
        return whole;
    }

    private static JsonObject Words(params string[] words) => new() { ["enum"] = new JsonArray([.. words.Select(word => (JsonNode)word)]) };

    // Decided by what is there, so that one wrong value is told by one error: where a value may be of several forms, it is held to one.
    private static JsonObject If(JsonObject test, JsonObject then, JsonObject? otherwise = null)
    {
        var form = new JsonObject { ["if"] = test.DeepClone(), ["then"] = then.DeepClone() };
        if (otherwise is not null)
            form["else"] = otherwise.DeepClone();
        return form;
    }

    // Of a form whatever parts there are: nothing must be there, and what may be of several forms has the members of all.
    private static JsonObject AnyPart(JsonObject form)
    {
        if (form["if"] is not null && form["then"]!["properties"] is not null)
        {
            var members = new JsonObject();
            foreach (var one in (JsonNode[])[form["then"]!, form["else"]!])
            foreach (var (name, value) in one["properties"]!.AsObject())
                members[name] = value!.DeepClone();
            members.Remove("applied");
            if (form["then"]!["properties"]!["applied"] is not null)
                members["applied"] = Flag;
            return AnyPart(Obj([], members));
        }

        var part = new JsonObject();
        foreach (var (name, value) in form)
        {
            if (name is "required" or "minItems")
                continue;
            part[name] = (name, value) switch
            {
                ("properties", JsonObject members) => new JsonObject(
                    members.Select(member => KeyValuePair.Create<string, JsonNode?>(member.Key, AnyPart(member.Value!.AsObject())))
                ),
                ("items", JsonObject items) => AnyPart(items),
                _ => value?.DeepClone(),
            };
        }

        return part;
    }

    private static JsonObject TextOr(JsonObject text, JsonObject other) => If(Text, text, other);

    private static JsonObject Map(JsonObject of) => new() { ["type"] = "object", ["additionalProperties"] = of };

    private static JsonObject List(JsonObject of, int least = 0)
    {
        var list = new JsonObject { ["type"] = "array", ["items"] = of.DeepClone() };
        if (least > 0)
            list["minItems"] = least;
        return list;
    }

    private static JsonObject ByKind(IEnumerable<(string Name, Form Form)> kinds)
    {
        var forms = kinds.ToArray();
        return new()
        {
            ["type"] = "object",
            ["properties"] = new JsonObject { ["kind"] = Words([.. forms.Select(one => one.Name)]) },
            ["required"] = new JsonArray("kind"),
            ["allOf"] = new JsonArray([.. forms.Select(one => If(Way(["kind"], [], ("kind", Const(one.Name))), Kind(one.Name, one.Form)))]),
        };
    }

    private static JsonObject Const(string word) => new() { ["const"] = word };

    private static JsonObject Kind(string name, Form form)
    {
        form.Members["kind"] = Const(name);
        return Also(Obj(["kind", .. form.Required], form.Members), form.Rules);
    }

    // What must hold between members too.
    private static JsonObject Also(JsonObject form, params JsonObject[] rules)
    {
        if (rules.Length > 0)
            form["allOf"] = new JsonArray([.. rules]);
        return form;
    }

    // What must be there, what must not, and what must be so where it is there.
    private static JsonObject Way(string[] there, string[] notThere, params (string Name, JsonObject Form)[] so)
    {
        var members = new JsonObject();
        foreach (var name in there)
            members[name] = true;
        foreach (var name in notThere)
            members[name] = false;
        foreach (var (name, form) in so)
            members[name] = form.DeepClone();
        var way = new JsonObject { ["type"] = "object" };
        if (members.Count > 0)
            way["properties"] = members;
        if (there.Length > 0)
            way["required"] = new JsonArray([.. there.Select(name => (JsonNode)name)]);
        return way;
    }

    private static JsonObject Needed(JsonObject form)
    {
        form["minProperties"] = 1;
        return form;
    }

    private static JsonObject Needs(JsonObject form, params (string Name, string[] Others)[] needs)
    {
        form["dependentRequired"] = new JsonObject(
            needs.Select(one =>
                KeyValuePair.Create<string, JsonNode?>(one.Name, new JsonArray([.. one.Others.Select(name => (JsonNode)name)]))
            )
        );
        return form;
    }

    private static JsonObject One(params (string Name, JsonObject Form)[] members)
    {
        var one = Obj(
            [],
            new JsonObject(members.Select(member => KeyValuePair.Create<string, JsonNode?>(member.Name, member.Form.DeepClone())))
        );
        one["minProperties"] = 1;
        one["maxProperties"] = 1;
        return one;
    }

    private static JsonObject Obj(string[] required, JsonObject members)
    {
        var properties = new JsonObject();
        foreach (var (name, value) in members)
            properties[name] = value!.DeepClone();
        var schema = new JsonObject
        {
            ["type"] = "object",
            ["properties"] = properties,
            ["additionalProperties"] = false,
        };
        if (required.Length > 0)
            schema["required"] = new JsonArray([.. required.Select(name => (JsonNode)name)]);
        return schema;
    }
}
