using System.Text.Json.Nodes;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Storage;

namespace RapidLedger.Server.Shop;

/// <summary>
/// The shop's words as they are called now: what files and a shop's server still call by an earlier name means what it became, unless
/// something is called so again.
/// </summary>
/// <param name="renames">All renames, in their order.</param>
/// <param name="settings">Where channels and groups are named.</param>
/// <param name="catalogue">Where tags, brands and options are.</param>
internal sealed class RenamedWords(IReadOnlyList<WordRename> renames, ShopSettings settings, CatalogueIndex catalogue)
{
    private readonly Lazy<HashSet<ShopWord>> known = new(() => Known(settings, catalogue));

    /// <summary>What a word is called now.</summary>
    public string Now(string kind, string word, string? option = null)
    {
        if (renames.Count == 0 || known.Value.Contains(new(kind, option, word)))
            return word;
        foreach (var rename in renames)
            if (rename.Was == new ShopWord(kind, option, word))
                word = rename.Becomes;
        return word;
    }

    /// <summary>Renames the channel and groups of a cart, where a shop's server calls them by the names they had.</summary>
    public void In(JsonObject cart)
    {
        if (renames.Count == 0)
            return;
        if (Text(cart["channel"]) is { } channel)
            cart["channel"] = Now("channel", channel);
        if ((cart["shopper"] as JsonObject)?["groups"] is JsonArray groups)
            for (var place = 0; place < groups.Count; place++)
                if (Text(groups[place]) is { } group)
                    groups[place] = Now("group", group);

        static string? Text(JsonNode? node) => node is JsonValue value && value.TryGetValue<string>(out var text) ? text : null;
    }

    /// <summary>Visits the words that settings and goods hold, as often as these do.</summary>
    /// <param name="settings">Where channels and groups are named.</param>
    /// <param name="catalogue">Where tags, brands, options and families are.</param>
    /// <param name="visit">Is given each word, and the variant that holds it; null: it is of the settings.</param>
    public static void Each(ShopSettings settings, CatalogueIndex catalogue, Action<ShopWord, int?> visit)
    {
        foreach (var channel in settings.Channels)
            visit(new("channel", null, channel), null);
        foreach (var group in settings.Groups)
            visit(new("group", null, group), null);
        foreach (var family in catalogue.Store.Families)
            visit(new("family", null, family.Name), null);
        for (var number = 0; number < catalogue.Count; number++)
        {
            var (variant, product) = (catalogue.Variant(number), catalogue.ProductOf(number));
            if (product.Brand is { } brand)
                visit(new("brand", null, brand), number);
            foreach (var tag in product.Tags)
                visit(new("tag", null, tag), number);
            foreach (var option in variant.Options)
                visit(new("option", option.Name, option.Value), number);
        }
    }

    private static HashSet<ShopWord> Known(ShopSettings settings, CatalogueIndex catalogue)
    {
        var words = new HashSet<ShopWord>();
        Each(settings, catalogue, (word, _) => words.Add(word));
        return words;
    }
}
