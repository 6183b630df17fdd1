using System.Text.Json;
using System.Text.Json.Nodes;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Shop;
using RapidLedger.Storage;

namespace RapidLedger.Server.Goods;

/// <summary>Makes changes of rows of lines of shoppers. What orders placed here add to them stands apart and stays.</summary>
/// <param name="setup">The shop that they come into.</param>
/// <param name="isTyped">Whether somebody types them here: then a word is meant as it is called now.</param>
internal sealed class ShopperLines(ShopSetup setup, bool isTyped = false) : IIncomingRows
{
    /// <summary>The members that a line may have.</summary>
    public static readonly string[] Members = ["id", "name", "groups", "orders", "spent", "place", "language"];

    private const int LongestName = 200;
    private const long MostOrders = 1_000_000_000;

    private readonly Dictionary<string, int> lines = new(StringComparer.Ordinal);
    private readonly List<RowChange> changes = [];
    private readonly List<BadLine> bad = [];

    /// <summary>What is wrong with lines.</summary>
    public IReadOnlyList<BadLine> Bad => bad;

    /// <summary>All changes, each shopper once.</summary>
    public IReadOnlyList<RowChange> Changes => changes;

    /// <summary>Takes a line in.</summary>
    public void Add(IncomingLine line)
    {
        bad.AddRange(line.UnknownMembers(Members));
        if (
            line.Members["id"] is not JsonValue named
            || !named.TryGetValue<string>(out var id)
            || id.Trim() is not { Length: > 0 and <= LongestName }
        )
        {
            Fault(line, "id", ProblemCode.Missing, $"The shopper's id is needed here: a text of 1 to {LongestName} characters.");
            return;
        }

        id = id.Trim();
        if (OrderTransaction.IsStandIn(id))
            Fault(
                line,
                "id",
                ProblemCode.NotAllowed,
                $"A shopper's id does not begin with '{OrderTransaction.Guest}' or '{OrderTransaction.Forgotten}', which stand for people without one."
            );
        else if (!lines.TryAdd(id, line.Number))
            Fault(line, "id", ProblemCode.Duplicate, $"'{id}' stands in line {lines[id]} already. Keep one of both.");
        else
            changes.Add(new("shopper", id, Read(line)));
    }

    private JsonObject Read(IncomingLine line)
    {
        var read = new JsonObject();
        foreach (var (name, value) in line.Members)
            switch (name)
            {
                case "name":
                    read[name] = Text(line, name, value);
                    break;
                case "groups":
                    read[name] = Groups(line, value);
                    break;
                case "orders" when value is null:
                case "spent" when value is null:
                    read[name] = 0;
                    break;
                case "orders":
                    if (value is JsonValue number && number.TryGetValue<long>(out var count) && count is >= 0 and <= MostOrders)
                        read[name] = count;
                    else
                        Fault(line, name, ProblemCode.NotAnInteger, $"A whole number from 0 to {MostOrders} is expected here.");
                    break;
                case "spent":
                    if (
                        value is JsonValue amount
                        && amount.TryGetValue<string>(out var sum)
                        && setup.Catalogue.Store.Currency.Read(sum, out var minor) == AmountFault.None
                    )
                        read[name] = minor;
                    else
                        Fault(
                            line,
                            name,
                            ProblemCode.NotAnAmount,
                            $"An amount in {setup.Catalogue.Store.Currency} is expected here, such as \"12.50\"."
                        );
                    break;
                case "place":
                    if (Text(line, name, value) is { } place && Place.Find((string)place!) is null)
                        Fault(
                            line,
                            name,
                            ProblemCode.UnknownPlace,
                            $"'{place}' is not a country of ISO 3166-1 or a subdivision of ISO 3166-2. Write DE or ES-CN."
                        );
                    else
                        read[name] = value?.DeepClone();
                    break;
                case "language":
                    if (Text(line, name, value) is { } tag && !Language.IsTag((string)tag!))
                        Fault(
                            line,
                            name,
                            ProblemCode.UnknownValue,
                            $"'{tag}' is not a language tag of BCP 47. Write en, de or de-AT, say."
                        );
                    else
                        read[name] = value?.DeepClone();
                    break;
            }

        return read;
    }

    private JsonNode? Groups(IncomingLine line, JsonNode? value)
    {
        if (value is null)
            return new JsonArray();
        if (
            value is JsonArray list
            && list.All(group =>
                group is JsonValue text
                && text.GetValueKind() == JsonValueKind.String
                && ((string)group!).Trim().Length > 0
                && !((string)group!).Contains(',')
            )
        )
            return new JsonArray([
                .. list.Select(group => ((string)group!).Trim())
                    .Select(group => isTyped ? group : setup.Renamed.Now("group", group))
                    .Distinct(StringComparer.Ordinal)
                    .Select(group => JsonValue.Create(group)),
            ]);
        Fault(line, "groups", ProblemCode.WrongType, "A list of groups is expected here, each a name without commas.");
        return null;
    }

    private JsonNode? Text(IncomingLine line, string name, JsonNode? value)
    {
        if (value is null)
            return null;
        if (value.GetValueKind() == JsonValueKind.String && ((string)value!).Length <= LongestName)
            return value.DeepClone();
        Fault(line, name, ProblemCode.WrongType, $"A text of at most {LongestName} characters is expected here.");
        return null;
    }

    private void Fault(IncomingLine line, string member, string code, string message) => bad.Add(new(line.Number, member, code, message));
}
