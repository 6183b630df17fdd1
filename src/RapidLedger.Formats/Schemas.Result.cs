using System.Text.Json.Nodes;

namespace RapidLedger.Formats;

/// <content>What a pricing gives.</content>
public static partial class Schemas
{
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
}
