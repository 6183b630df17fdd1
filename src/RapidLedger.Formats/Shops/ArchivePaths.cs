using System.Globalization;
using System.Text;

namespace RapidLedger.Formats;

/// <summary>Where what stands in the files of a shop.</summary>
public static class ArchivePaths
{
    /// <summary>Settings.</summary>
    public const string Store = "store.json";

    /// <summary>The tree of categories.</summary>
    public const string Categories = "categories.csv";

    /// <summary>Items, a variant a row.</summary>
    public const string Items = "items.csv";

    /// <summary>Shoppers.</summary>
    public const string Shoppers = "shoppers.csv";

    /// <summary>Orders, a line of one a row.</summary>
    public const string Orders = "orders.jsonl";

    /// <summary>The folder of promotions.</summary>
    public const string Promotions = "promotions/";

    /// <summary>The folder of batches of codes.</summary>
    public const string Batches = "batches/";

    /// <summary>The folder of carts kept under a name.</summary>
    public const string Carts = "carts/";

    private const string OfDraft = ".draft";

    internal const string Draft = $"{OfDraft}.json";
    internal const string Json = ".json";
    internal const string Csv = ".csv";
    internal const string Case = ".case.json";

    /// <summary>Whether a file belongs to a shop; others may lie beside them, and are left alone.</summary>
    public static bool IsOfShop(string path) =>
        path is Store or Categories or Items or Shoppers or Orders
        || (path.StartsWith(Promotions, StringComparison.Ordinal) && path.EndsWith(Json, StringComparison.Ordinal))
        || (
            path.StartsWith(Batches, StringComparison.Ordinal)
            && (path.EndsWith(Json, StringComparison.Ordinal) || path.EndsWith(Csv, StringComparison.Ordinal))
        )
        || (path.StartsWith(Carts, StringComparison.Ordinal) && path.EndsWith(Case, StringComparison.Ordinal));

    /// <summary>An id as the name of a file: every byte but a-z 0-9 . _ - is %XX, and the point of an id that ends in .draft.</summary>
    public static string Escape(string id)
    {
        var name = new StringBuilder();
        foreach (var one in Encoding.UTF8.GetBytes(id))
            if (one is >= (byte)'a' and <= (byte)'z' or >= (byte)'0' and <= (byte)'9' or (byte)'.' or (byte)'_' or (byte)'-')
                name.Append((char)one);
            else
                name.Append(CultureInfo.InvariantCulture, $"%{one:X2}");
        // An id may end as files of drafts do: its own is not one.
        return name.ToString() is var escaped && escaped.EndsWith(OfDraft, StringComparison.Ordinal)
            ? $"{escaped[..^OfDraft.Length]}%2E{OfDraft[1..]}"
            : escaped;
    }

    /// <summary>The id that a file is named by.</summary>
    public static string Unescape(string name) => Uri.UnescapeDataString(name);
}
