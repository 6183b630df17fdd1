using System.Globalization;
using System.Text.Json.Nodes;
using System.Text.RegularExpressions;
using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>How a column is read.</summary>
/// <param name="Field">What it is; null: it is left out.</param>
/// <param name="Marks">How its numbers are written.</param>
/// <param name="Divider">What divides the names of its categories; null: nothing does.</param>
/// <param name="Days">How its dates are written.</param>
public sealed record ColumnPlan(
    string? Field,
    NumberMarks Marks = NumberMarks.Point,
    string? Divider = null,
    DayOrder Days = DayOrder.DayFirst
);

/// <summary>Reads rows of cells as the members of a line; an empty cell empties its member.</summary>
/// <param name="plans">How each column is read.</param>
/// <param name="fields">What can stand in columns.</param>
/// <param name="store">In whose currency amounts are.</param>
public sealed partial class RowReader(IReadOnlyList<ColumnPlan> plans, IReadOnlyList<ColumnField> fields, Store store)
{
    /// <summary>What may divide the names of categories, in the order in which they are looked for.</summary>
    public static IReadOnlyList<string> CategoryDividers { get; } = [" > ", "|", "/"];

    private readonly CellKind[] kinds = [.. plans.Select(plan => plan.Field is { } field ? Columns.KindOf(field, fields) : CellKind.Text)];

    // Where a column names the currency, the amounts of a row are in that.
    private readonly int currencyColumn = plans.ToList().FindIndex(plan => plan.Field == "currency");
    private string? currencyOfRow;

    /// <summary>The members of a row.</summary>
    /// <param name="row">The row.</param>
    /// <param name="bad">Is told what is wrong with a cell: the field, a code, a message.</param>
    public JsonObject Read(TableRow row, Action<string, string, string> bad)
    {
        var members = new JsonObject();
        currencyOfRow =
            currencyColumn >= 0 && currencyColumn < row.Cells.Count && row.Cells[currencyColumn] is { Length: > 0 } code
                ? code.ToUpperInvariant()
                : null;
        for (var column = 0; column < plans.Count; column++)
        {
            if (plans[column].Field is not { } field)
                continue;
            var cell = column < row.Cells.Count ? row.Cells[column] : "";
            if (field.StartsWith(Columns.Option, StringComparison.Ordinal))
                Put(members, "options", field[Columns.Option.Length..], cell.Length == 0 ? null : cell);
            else if (Columns.CurrencyOf(field) is { } currency)
                PutPrice(members, field, currency, cell, plans[column], bad);
            else if (field == "options")
                PutOptions(members, cell, bad);
            else if (cell.Length == 0)
                members.TryAdd(field == "kg" ? "grams" : field, null);
            else if (Value(field, kinds[column], cell, plans[column], bad) is { } value)
                members[field == "kg" ? "grams" : field] = value;
        }

        return members;
    }

    private JsonNode? Value(string field, CellKind kind, string cell, ColumnPlan plan, Action<string, string, string> bad)
    {
        switch (kind)
        {
            case CellKind.Amount:
                return Amount(field, cell, currencyOfRow ?? store.Currency.Code, plan, bad);
            case CellKind.Whole:
                if (
                    NumberReading.Digits(cell, plan.Marks) is { } whole
                    && long.TryParse(whole, CultureInfo.InvariantCulture, out var count)
                )
                    return count;
                bad(field, ProblemCode.NotAnInteger, $"'{cell}' is not a whole number.");
                return null;
            case CellKind.Kilograms:
                if (
                    NumberReading.Digits(cell, plan.Marks) is { } weight
                    && decimal.TryParse(weight, CultureInfo.InvariantCulture, out var kilograms)
                    && kilograms is >= 0 and < 1_000_000_000
                )
                    return (long)Math.Round(kilograms * 1000, MidpointRounding.AwayFromZero);
                bad(field, ProblemCode.NotAnInteger, $"'{cell}' is not a weight in kilograms.");
                return null;
            case CellKind.Words:
                return new JsonArray([
                    .. cell.Split([',', ';', '|'], StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)
                        .Distinct(StringComparer.Ordinal)
                        .Select(word => JsonValue.Create(word)),
                ]);
            case CellKind.Category:
                return plan.Divider is { } divider && cell.Contains(divider.Trim(), StringComparison.Ordinal)
                    ? new JsonArray([
                        .. cell.Split(divider.Trim(), StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries)
                            .Select(name => JsonValue.Create(name)),
                    ])
                    : JsonValue.Create(cell);
            case CellKind.Moment:
                if (DateReading.Read(cell, plan.Days) is { } moment)
                    return JsonValue.Create(moment);
                bad(field, ProblemCode.WrongType, $"'{cell}' is not a day. Write 2026-12-31, or 2026-12-31 17:30.");
                return null;
            default:
                if (field != "sku" || !Shortened().IsMatch(cell))
                    return JsonValue.Create(cell);
                bad(
                    field,
                    ProblemCode.WrongType,
                    $"A spreadsheet has shortened this SKU to '{cell}'. Make its column text there, and write the SKU anew."
                );
                return null;
        }
    }

    private static JsonValue? Amount(string field, string cell, string currency, ColumnPlan plan, Action<string, string, string> bad)
    {
        if (NumberReading.CurrencyIn(cell) is { } named && named != currency)
            bad(field, ProblemCode.UnknownCurrency, $"'{cell}' is not in {currency}, as this column is.");
        else if (NumberReading.Digits(cell, plan.Marks) is { } digits)
            return JsonValue.Create(digits);
        else
            bad(field, ProblemCode.NotAnAmount, $"'{cell}' is not an amount.");
        return null;
    }

    private static void PutPrice(
        JsonObject members,
        string field,
        string currency,
        string cell,
        ColumnPlan plan,
        Action<string, string, string> bad
    )
    {
        members.TryAdd("prices", new JsonObject());
        if (cell.Length == 0 || Amount(field, cell, currency, plan, bad) is not { } amount)
            return;
        var prices = members["prices"]!.AsObject();
        prices.TryAdd(currency, new JsonObject());
        prices[currency]![field[..field.IndexOf(':')]] = amount;
    }

    private static void PutOptions(JsonObject members, string cell, Action<string, string, string> bad)
    {
        members.TryAdd("options", new JsonObject());
        foreach (var option in cell.Split('|', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries))
            if (option.Split('=', 2) is [{ Length: > 0 } name, var value])
                members["options"]![name.Trim()] = value.Trim();
            else
                bad("options", ProblemCode.WrongType, $"'{option}' is not of the form name=value.");
    }

    private static void Put(JsonObject members, string of, string name, string? value)
    {
        members.TryAdd(of, new JsonObject());
        if (value is not null)
            members[of]![name] = value;
    }

    // What a spreadsheet makes of a long number: 4.00638E+12.
    [GeneratedRegex(@"^\d([.,]\d+)?E\+\d+$", RegexOptions.IgnoreCase)]
    private static partial Regex Shortened();
}
