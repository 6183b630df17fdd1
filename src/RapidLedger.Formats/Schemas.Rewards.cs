using System.Text.Json.Nodes;
using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <content>Conditions and rewards, a form for each kind.</content>
public static partial class Schemas
{
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
}
