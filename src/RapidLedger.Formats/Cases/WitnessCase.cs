using System.Text.Json.Nodes;
using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>A witness as a case: the cart on the rules, goods and settings it was found with, with nothing used.</summary>
public static class WitnessCase
{
    /// <summary>The case, which prices as the witness did.</summary>
    /// <param name="rules">A case with the same store, catalogue and promotions, whatever its cart; it is left as it is.</param>
    /// <param name="witness">The cart and its invented codes.</param>
    /// <param name="title">What it shows.</param>
    public static JsonObject Of(JsonObject rules, Witness witness, string title)
    {
        var written = new JsonObject { ["title"] = title };
        foreach (var member in (string[])["store", "catalogue", "promotions"])
            written[member] = rules[member]?.DeepClone();
        written["batches"] = Batches(rules, witness);
        written["cart"] = CartWriter.Of(witness.Cart, witness.Priced.Catalogue.Store.Currency);
        return written;
    }

    // Every batch that a promotion names is there, with the codes that the cart holds.
    private static JsonObject Batches(JsonObject rules, Witness witness)
    {
        var batches = new JsonObject();
        foreach (var promotion in rules["promotions"] as JsonArray ?? [])
        foreach (var id in (promotion?["trigger"]?["batches"] as JsonArray ?? []).Select(id => (string)id!))
            batches[id] = new JsonObject
            {
                ["codes"] = new JsonObject(
                    witness
                        .BatchCodes.Where(code => code.Value.Batch == id)
                        .Select(code => KeyValuePair.Create<string, JsonNode?>(code.Key, new JsonObject()))
                ),
            };
        return batches;
    }
}
