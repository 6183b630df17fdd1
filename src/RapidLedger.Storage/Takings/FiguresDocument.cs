using System.Text.Json;
using System.Text.Json.Nodes;
using RapidLedger.Pricing;

namespace RapidLedger.Storage;

/// <summary>Figures of an order as a short JSON list: there are as many as orders.</summary>
internal static class FiguresDocument
{
    public static string Write(OrderFigures figures)
    {
        using var stream = new MemoryStream();
        using (var writer = new Utf8JsonWriter(stream))
        {
            writer.WriteStartArray();
            writer.WriteStartArray();
            foreach (var line in figures.Lines)
            {
                writer.WriteStartArray();
                writer.WriteStringValue(line.Sku);
                writer.WriteNumberValue(line.Quantity);
                writer.WriteNumberValue(line.Net.Own);
                writer.WriteNumberValue(line.Net.InBase);
                if (line.Cost is { } cost)
                    writer.WriteNumberValue(cost);
                else
                    writer.WriteNullValue();
                foreach (var part in line.Parts)
                {
                    writer.WriteStringValue(part.Promotion);
                    writer.WriteNumberValue(part.Given.Own);
                    writer.WriteNumberValue(part.Given.InBase);
                    writer.WriteNumberValue(part.WithoutTax);
                    writer.WriteNumberValue(part.Units);
                }

                writer.WriteEndArray();
            }

            writer.WriteEndArray();
            writer.WriteStartArray();
            foreach (var promotion in figures.Promotions)
                writer.WriteStringValue(promotion);
            writer.WriteEndArray();
            Write(writer, figures.Delivery);
            Write(writer, figures.Paid);
            writer.WriteNumberValue(figures.Total);
            writer.WriteNumberValue(figures.Credit);
            writer.WriteEndArray();
        }

        return System.Text.Encoding.UTF8.GetString(stream.GetBuffer(), 0, (int)stream.Length);
    }

    public static OrderFigures Read(string document)
    {
        var whole = JsonNode.Parse(document)!.AsArray();
        return new(
            [.. whole[0]!.AsArray().Select(line => Line(line!.AsArray()))],
            [.. whole[1]!.AsArray().Select(promotion => (string)promotion!)],
            Amounts(whole[2]!.AsArray()),
            Amounts(whole[3]!.AsArray()),
            (long)whole[4]!,
            (long)whole[5]!
        );
    }

    private static LineFigures Line(JsonArray line)
    {
        var parts = new List<PartFigures>();
        for (var at = 5; at < line.Count; at += 5)
            parts.Add(new((string)line[at]!, new((long)line[at + 1]!, (long)line[at + 2]!), (long)line[at + 3]!, (long)line[at + 4]!));
        return new((string)line[0]!, (long)line[1]!, new((long)line[2]!, (long)line[3]!), (long?)line[4], parts);
    }

    private static void Write(Utf8JsonWriter writer, IReadOnlyList<PromotionAmount> amounts)
    {
        writer.WriteStartArray();
        foreach (var one in amounts)
        {
            writer.WriteStringValue(one.Promotion);
            writer.WriteNumberValue(one.Amount.Own);
            writer.WriteNumberValue(one.Amount.InBase);
        }

        writer.WriteEndArray();
    }

    private static List<PromotionAmount> Amounts(JsonArray list)
    {
        var amounts = new List<PromotionAmount>();
        for (var at = 0; at < list.Count; at += 3)
            amounts.Add(new((string)list[at]!, new((long)list[at + 1]!, (long)list[at + 2]!)));
        return amounts;
    }
}
