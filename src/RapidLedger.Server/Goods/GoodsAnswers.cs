using System.Text.Json;
using RapidLedger.Server.Shop;
using RapidLedger.Storage;

namespace RapidLedger.Server.Goods;

/// <summary>An item as its merchant sees it.</summary>
/// <param name="Sku">Its SKU.</param>
/// <param name="Name">The product's name, with what tells it from the others.</param>
/// <param name="Product">The product that it is a variant of.</param>
/// <param name="ProductName">The product's name.</param>
/// <param name="Category">The name of its category; null: in none.</param>
/// <param name="CategoryId">The id of its category.</param>
/// <param name="Brand">Its brand.</param>
/// <param name="Tags">Free words.</param>
/// <param name="TaxClass">Its tax class.</param>
/// <param name="Regular">The regular price.</param>
/// <param name="Price">The reduced price; null: not reduced.</param>
/// <param name="Cost">What it costs the shop; null: not known.</param>
/// <param name="Margin">The share of its price, without tax, that is left after cost, in percent.</param>
/// <param name="Stock">What is free now; null: no end to it.</param>
/// <param name="Grams">Its weight.</param>
/// <param name="Options">What tells it from the product's other variants.</param>
internal sealed record GoodsItem(
    string Sku,
    string Name,
    string Product,
    string ProductName,
    string? Category,
    string? CategoryId,
    string? Brand,
    IReadOnlyList<string> Tags,
    string? TaxClass,
    string Regular,
    string? Price,
    string? Cost,
    decimal? Margin,
    long? Stock,
    long Grams,
    IReadOnlyList<ItemOption> Options
);

/// <summary>An option of an item: a size, a colour.</summary>
internal sealed record ItemOption(string Name, string Value);

/// <summary>A part of a list of items.</summary>
/// <param name="Items">From the place that was asked for.</param>
/// <param name="Total">How many there are in all.</param>
/// <param name="All">How many the shop has.</param>
internal sealed record GoodsPage(IReadOnlyList<GoodsItem> Items, int Total, int All);

/// <summary>A category with how many items are in it and below.</summary>
internal sealed record GoodsCategory(string Id, string Name, string? Parent, int Items);

/// <summary>Items to be written: each a SKU with the members that change.</summary>
/// <param name="Items">As a shop's server writes them.</param>
/// <param name="What">What is done, in words, for the history.</param>
internal sealed record WriteGoodsRequest(IReadOnlyList<JsonElement> Items, string? What = null);

/// <summary>What came of it.</summary>
/// <param name="Step">The step that it is, to take it back by; null: nothing differs.</param>
/// <param name="Changed">How many rows differ.</param>
/// <param name="Effects">What it does to what items are sold at.</param>
internal sealed record GoodsWritten(long? Step, int Changed, IReadOnlyList<Effect> Effects);

/// <summary>A step of the history.</summary>
internal sealed record GoodsStep(long Number, string By, string What, string At, long Rows, long? TakesBack, long? TakenBack);

/// <summary>What a step changed of an item.</summary>
internal sealed record ItemChange(string By, string What, string At, string? Before, string After);

/// <summary>What came of taking a step back.</summary>
/// <param name="Step">The step that it is.</param>
/// <param name="Changed">How many rows it changed.</param>
/// <param name="Kept">Members that were written since, and stay.</param>
internal sealed record StepTakenBack(long? Step, int Changed, IReadOnlyList<StayingMember> Kept);

/// <summary>An item with what is known of it.</summary>
/// <param name="Item">The item.</param>
/// <param name="Promotions">The live promotions that look at it.</param>
/// <param name="Quantities">What some of it alone cost a guest now, with all that is live.</param>
/// <param name="Changes">What changed of it, the last first.</param>
internal sealed record GoodsDetail(
    GoodsItem Item,
    IReadOnlyList<GoodsPromotion> Promotions,
    IReadOnlyList<QuantityPrice> Quantities,
    IReadOnlyList<ItemChange> Changes
);

/// <summary>What so many of an item cost, in the base currency.</summary>
/// <param name="Margin">What is left of that after cost, in percent; null: the cost is not known.</param>
internal sealed record QuantityPrice(int Units, string Total, string Each, decimal? Margin);

/// <summary>A live promotion that looks at an item, with what one unit costs by it alone.</summary>
/// <param name="From">From when on, in words; null: it has begun.</param>
internal sealed record GoodsPromotion(string Id, string Name, string Price, decimal? Margin, string? From);
