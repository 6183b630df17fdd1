using System.Text.Json.Nodes;

namespace RapidLedger.Formats;

/// <content>What the store interface answers.</content>
public static partial class Schemas
{
    // OpenAPI's tools know nothing of if and then.
    private static JsonObject FigureOf => new() { ["anyOf"] = new JsonArray(Minor, Whole(0)) };

    private static JsonObject Moment => new() { ["type"] = "string", ["format"] = "date-time" };

    /// <summary>What a shop is told of a priced cart, as <see cref="Formats.StoreResult"/> writes it.</summary>
    public static JsonObject StoreResult() =>
        Told(
            Obj(
                ["currency", "lines", "gifts", "promotions", "codes", "totals", "taxes", "proved", "nudges", "progress"],
                new()
                {
                    ["currency"] = Text,
                    ["lines"] = List(
                        All(
                            new()
                            {
                                ["sku"] = Text,
                                ["name"] = Text,
                                ["quantity"] = Whole(1),
                                ["regular"] = Minor,
                                ["goods"] = Minor,
                                ["net"] = Minor,
                                ["parts"] = List(
                                    All(
                                        new()
                                        {
                                            ["promotion"] = Text,
                                            ["label"] = Text,
                                            ["amount"] = Minor,
                                        }
                                    )
                                ),
                            }
                        )
                    ),
                    ["gifts"] = List(
                        All(
                            new()
                            {
                                ["promotion"] = Text,
                                ["label"] = Text,
                                ["sku"] = Text,
                                ["name"] = Text,
                                ["quantity"] = Whole(1),
                                ["value"] = Minor,
                                ["net"] = Minor,
                            }
                        )
                    ),
                    ["promotions"] = List(
                        Obj(
                            ["id", "label", "shopper", "amount", "units", "from"],
                            new()
                            {
                                ["id"] = Text,
                                ["label"] = Text,
                                ["shopper"] = Text,
                                ["amount"] = Minor,
                                ["units"] = Whole(0),
                                ["from"] = Words("goods", "order", "credit"),
                                ["toPick"] = All(
                                    new() { ["units"] = Whole(1), ["items"] = List(All(new() { ["sku"] = Text, ["name"] = Text })) }
                                ),
                                ["giftOut"] = Flag,
                            }
                        )
                    ),
                    ["codes"] = List(
                        Obj(
                            ["code", "status", "shopper"],
                            new()
                            {
                                ["code"] = Text,
                                ["status"] = Words(["applied", "unknown", "notNeeded", "tooMany", .. Reasons]),
                                ["shopper"] = Text,
                                ["promotion"] = Text,
                                ["amount"] = Minor,
                            }
                        )
                    ),
                    ["totals"] = StoreTotals(),
                    ["taxes"] = List(
                        All(
                            new()
                            {
                                ["class"] = Text,
                                ["percent"] = Percent,
                                ["base"] = Minor,
                                ["tax"] = Minor,
                            }
                        )
                    ),
                    ["proved"] = Flag,
                    ["nudges"] = List(
                        All(
                            new()
                            {
                                ["promotion"] = Text,
                                ["label"] = Text,
                                ["shopper"] = Text,
                                ["saves"] = Minor,
                                ["measure"] = Words("spend", "quantity"),
                                ["missing"] = FigureOf,
                                ["add"] = List(
                                    All(
                                        new()
                                        {
                                            ["sku"] = Text,
                                            ["name"] = Text,
                                            ["quantity"] = Whole(1),
                                        }
                                    ),
                                    1
                                ),
                            }
                        )
                    ),
                    ["progress"] = List(
                        All(
                            new()
                            {
                                ["promotion"] = Text,
                                ["label"] = Text,
                                ["measure"] = Words("spend", "quantity"),
                                ["at"] = FigureOf,
                                ["steps"] = List(
                                    All(
                                        new()
                                        {
                                            ["from"] = FigureOf,
                                            ["reached"] = Flag,
                                            ["shopper"] = Text,
                                        }
                                    ),
                                    1
                                ),
                            }
                        )
                    ),
                }
            ),
            "result"
        );

    /// <summary>A cart of a shop: as in a case, but priced now.</summary>
    public static JsonObject StoreCart()
    {
        var cart = Cart();
        cart["properties"]!.AsObject().Remove("at");
        cart["required"] = new JsonArray("lines");
        return Told(cart, "cart");
    }

    /// <summary>That an order was not placed, as it no longer comes to what was shown, or cannot be placed beside others.</summary>
    /// <param name="problem">The form of a problem.</param>
    /// <param name="shown">The form of what is shown.</param>
    /// <param name="result">The form of a result.</param>
    public static JsonObject PlacingConflict(JsonObject problem, JsonObject shown, JsonObject result) =>
        Told(
            Obj(
                ["type", "title", "status", "detail", "problems"],
                new()
                {
                    ["type"] = Text,
                    ["title"] = Text,
                    ["status"] = new JsonObject { ["type"] = "integer" },
                    ["detail"] = Text,
                    ["problems"] = List(problem, 1),
                    // Where something differs from what was shown: what it comes to now.
                    ["edition"] = Whole(0),
                    ["shown"] = shown,
                    ["result"] = result,
                }
            ),
            "conflict"
        );

    /// <summary>What the shopper is shown and agrees to.</summary>
    public static JsonObject Shown() =>
        Told(
            All(
                new()
                {
                    ["total"] = Minor,
                    ["due"] = Minor,
                    ["credit"] = Minor,
                    ["points"] = Whole(0),
                    ["gifts"] = List(
                        All(
                            new()
                            {
                                ["promotion"] = Text,
                                ["sku"] = Text,
                                ["quantity"] = Whole(1),
                                ["net"] = Minor,
                            }
                        )
                    ),
                    ["promotions"] = List(All(new() { ["id"] = Text, ["amount"] = Minor })),
                    ["codes"] = List(Obj(["code"], new() { ["code"] = Text, ["amount"] = Minor })),
                }
            ),
            "shown"
        );

    /// <summary>An order as the store tells it.</summary>
    /// <param name="result">The form of its result.</param>
    public static JsonObject Order(JsonObject result) =>
        Told(
            Obj(
                ["id", "state", "placedAt", "heldUntil", "edition", "rehearsal", "change", "result"],
                new()
                {
                    ["id"] = Text,
                    ["state"] = Words("held", "taken", "givenBack", "lapsed"),
                    ["placedAt"] = Moment,
                    ["heldUntil"] = new JsonObject { ["type"] = new JsonArray("string", "null"), ["format"] = "date-time" },
                    ["edition"] = Whole(0),
                    ["rehearsal"] = Flag,
                    ["change"] = Whole(1),
                    ["result"] = result,
                    ["redemptions"] = List(
                        All(
                            new()
                            {
                                ["promotion"] = Text,
                                ["amount"] = Minor,
                                ["drawn"] = Minor,
                            }
                        )
                    ),
                    // Units by line, gifts after the others; amounts in all, and of the last time.
                    ["returned"] = Obj(
                        ["units", "amount", "now", "toCredit", "toMoney"],
                        new()
                        {
                            ["units"] = List(Whole(0)),
                            ["amount"] = Minor,
                            ["now"] = Minor,
                            ["toCredit"] = Minor,
                            ["toMoney"] = Minor,
                            ["cards"] = List(
                                Obj(
                                    ["promotion", "amount", "now", "waiting", "usable"],
                                    new()
                                    {
                                        ["promotion"] = Text,
                                        ["code"] = Text,
                                        ["amount"] = Minor,
                                        ["now"] = Minor,
                                        ["waiting"] = Minor,
                                        ["usable"] = Flag,
                                    }
                                )
                            ),
                        }
                    ),
                }
            ),
            "order"
        );

    private static JsonObject StoreTotals()
    {
        var members = SumMembers();
        (members["points"], members["shippingUnavailable"]) = (Whole(0), Flag);
        return All(members);
    }

    // A form of which every member is always there.
    private static JsonObject All(JsonObject members) => Obj([.. members.Select(member => member.Key)], members);
}
