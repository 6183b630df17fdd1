using System.Text.Json.Nodes;
using RapidLedger.Pricing;

namespace RapidLedger.Formats;

/// <summary>
/// Writes conditions as JsonLogic rules, and carts as the data they are applied to, so that other programs can decide them.
/// Amounts are whole numbers of minor units of the cart's currency.
/// </summary>
public sealed class JsonLogic
{
    private readonly CatalogueIndex catalogue;
    private readonly Currency currency;
    private readonly ConditionKinds<Func<Condition, JsonNode>> rules;

    /// <param name="catalogue">What the items are.</param>
    /// <param name="currency">The currency of the carts; one of the store's.</param>
    public JsonLogic(CatalogueIndex catalogue, Currency currency)
    {
        (this.catalogue, this.currency) = (catalogue, currency);
        rules = new()
        {
            All = Kind<AllOf>(all => all.Parts.Count == 0 ? JsonValue.Create(true) : Of("and", all.Parts.Select(Rule))),
            Any = Kind<AnyOf>(any => any.Parts.Count == 0 ? JsonValue.Create(false) : Of("or", any.Parts.Select(Rule))),
            None = Kind<NoneOf>(none => none.Parts.Count == 0 ? JsonValue.Create(true) : Of("!", [Of("or", none.Parts.Select(Rule))])),
            Spend = Kind<Spend>(spend =>
                Bounds(Sum(spend.Of, Of("*", [Var("current.price"), Var("current.quantity")])), Minor(spend.From), Minor(spend.To))
            ),
            Quantity = Kind<Quantity>(quantity => Compare(quantity.Comparison, Sum(quantity.Of, Var("current.quantity")), quantity.Number)),
            // The first line of each SKU stands for it.
            Distinct = Kind<Distinct>(distinct =>
                Compare(distinct.Comparison, Sum(distinct.Of, Of("if", [Var("current.first"), 1, 0])), distinct.Number)
            ),
            Only = Kind<Only>(only =>
                Of(
                    "and",
                    [
                        Of(">", [Of("reduce", [Var("lines"), Of("+", [Var("accumulator"), 1]), 0]), 0]),
                        Of("all", [Var("lines"), Item(only.Of)]),
                    ]
                )
            ),
            Weight = Kind<Weight>(weight => Compare(weight.Comparison, Var("grams"), weight.Grams)),
            Shopper = Kind<Buyer>(Who),
            Destination = Kind<Destination>(destination => Where(destination.Places)),
            Channel = Kind<Channel>(channel => In(Var("channel"), channel.Names)),
            Currency = Kind<PaidIn>(paid => In(Var("currency"), paid.Currencies.Select(one => one.Code))),
            Method = Kind<Method>(method => In(Var("method"), method.Ids)),
        };
    }

    /// <summary>A condition as a rule; none always holds. What looks at the prices that other promotions leave cannot be said.</summary>
    public JsonNode Rule(Condition? condition) => condition is null ? JsonValue.Create(true) : condition.In(rules)(condition);

    private static Func<Condition, JsonNode> Kind<T>(Func<T, JsonNode> rule)
        where T : Condition => condition => rule((T)condition);

    /// <summary>A cart as the data of the rules.</summary>
    public JsonObject Data(Cart cart)
    {
        var prices = catalogue.PricesIn(currency);
        var seen = new HashSet<string>(StringComparer.Ordinal);
        long grams = 0;
        var lines = new JsonArray();
        foreach (var line in cart.Lines)
        {
            var number = catalogue.Find(line.Sku);
            var product = catalogue.ProductOf(number);
            grams += catalogue.Variant(number).Grams * line.Quantity;
            var categories = new JsonArray();
            for (var category = product.Category; category is not null; category = catalogue.Categories[category].Parent)
                categories.Add(category);
            lines.Add(
                new JsonObject
                {
                    ["sku"] = line.Sku,
                    ["quantity"] = line.Quantity,
                    ["first"] = seen.Add(line.Sku),
                    ["product"] = product.Id,
                    ["categories"] = categories,
                    ["brand"] = product.Brand ?? "",
                    ["tags"] = Texts(product.Tags),
                    ["options"] = Texts(catalogue.Variant(number).Options.Select(option => $"{option.Name}={option.Value}")),
                    ["price"] = prices.Current(number),
                    ["regular"] = prices.Regular(number),
                }
            );
        }

        return new()
        {
            ["lines"] = lines,
            ["grams"] = grams,
            ["channel"] = cart.Channel,
            ["currency"] = currency.Code,
            ["method"] = cart.Method ?? "",
            ["destination"] = cart.Destination?.Code ?? "",
            ["country"] = cart.Destination?.Country ?? "",
            ["signedIn"] = cart.Shopper is not null,
            ["shopper"] = cart.Shopper?.Id ?? "",
            ["groups"] = Texts(cart.Shopper?.Groups ?? []),
            ["orders"] = cart.Shopper?.Orders ?? 0,
            ["spent"] = cart.Shopper?.Spent ?? 0,
        };
    }

    private JsonNode Item(Selection selection)
    {
        var taken = Of("or", selection.In.Select(Item));
        List<JsonNode> all = [taken, .. selection.Out.Select(term => Of("!", [Item(term)]))];
        if (selection.FullPriceOnly)
            all.Add(Of("==", [Var("price"), Var("regular")]));
        if (selection.PriceFrom is not null || selection.PriceTo is not null)
            all.Add(Bounds(Var("price"), Minor(selection.PriceFrom), Minor(selection.PriceTo)));
        return Of("and", all);
    }

    private static JsonNode Item(Term term) =>
        term switch
        {
            Term.All => JsonValue.Create(true),
            Term.InCategory(var id) => Of("in", [id, Var("categories")]),
            Term.OfBrand(var name) => Of("==", [Var("brand"), name]),
            Term.OfProduct(var id) => Of("==", [Var("product"), id]),
            Term.OfSku(var sku) => Of("==", [Var("sku"), sku]),
            Term.Tagged(var name) => Of("in", [name, Var("tags")]),
            Term.WithOption(var name, var value, null) => Of("in", [$"{name}={value}", Var("options")]),
            Term.WithOption(var name, var value, { } product) => Of(
                "and",
                [Item(new Term.OfProduct(product)), Item(new Term.WithOption(name, value))]
            ),
            _ => throw new System.Diagnostics.UnreachableException(),
        };

    private static JsonNode Who(Buyer buyer) =>
        buyer switch
        {
            Buyer.Guest => Of("!", [Var("signedIn")]),
            Buyer.SignedIn => Of("!!", [Var("signedIn")]),
            Buyer.InGroup(var groups) => Of("or", groups.Select(group => Of("in", [group, Var("groups")]))),
            Buyer.OneOf(var ids) => In(Var("shopper"), ids),
            Buyer.Orders(var comparison, var number) => Compare(comparison, Var("orders"), number),
            Buyer.Spent(var from, var to) => Bounds(Var("spent"), from, to),
            _ => throw new System.Diagnostics.UnreachableException(),
        };

    private static JsonNode Where(Places places)
    {
        JsonNode Any(IEnumerable<Place> some) =>
            Of(
                "or",
                [JsonValue.Create(false), .. some.Select(place => Of("==", [Var(place.IsCountry ? "country" : "destination"), place.Code]))]
            );
        var known = Of("!=", [Var("destination"), ""]);
        return Of("and", [known, places.In is { } taken ? Any(taken) : JsonValue.Create(true), Of("!", [Any(places.Out)])]);
    }

    private JsonNode Sum(Selection? of, JsonNode term)
    {
        var lines = of is null || of.IsEverything ? Var("lines") : Of("filter", [Var("lines"), Item(of)]);
        return Of("reduce", [lines, Of("+", [Var("accumulator"), term]), 0]);
    }

    private static JsonNode Bounds(JsonNode value, long? from, long? to)
    {
        List<JsonNode> bounds = [JsonValue.Create(true)];
        if (from is { } least)
            bounds.Add(Of(">=", [value.DeepClone(), least]));
        if (to is { } most)
            bounds.Add(Of("<=", [value.DeepClone(), most]));
        return Of("and", bounds);
    }

    private static JsonNode Compare(Comparison comparison, JsonNode value, long number) =>
        Of(
            comparison switch
            {
                Comparison.AtLeast => ">=",
                Comparison.MoreThan => ">",
                Comparison.Exactly => "===",
                Comparison.AnythingBut => "!==",
                Comparison.LessThan => "<",
                _ => "<=",
            },
            [value, number]
        );

    private long? Minor(Amount? amount) => amount?.For(currency, catalogue.Store);

    private static JsonNode In(JsonNode value, IEnumerable<string> names) => Of("in", [value, Texts(names)]);

    private static JsonArray Texts(IEnumerable<string> texts) => [.. texts.Select(text => (JsonNode)text)];

    private static JsonObject Var(string name) => new() { ["var"] = name };

    private static JsonObject Of(string name, IEnumerable<JsonNode> operands) => new() { [name] = new JsonArray([.. operands]) };
}
