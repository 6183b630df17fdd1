using System.Text.Json.Nodes;
using Microsoft.OpenApi;
using RapidLedger.Formats;

namespace RapidLedger.Server.Web;

/// <summary>What the OpenAPI document says beside the forms: what each call does, under which heading, with which key, and which headers come with it.</summary>
internal static class ApiDocument
{
    private const string Key = "storeKey";

    private static readonly (string Tag, string Starts, string Says)[] Tags =
    [
        ("store", "/store", "The store interface, for a shop's server and its pages: prices, orders, offers. Every call carries a store key."),
        ("promotions", "/api/promotions", "Promotions as the merchant writes them."),
        ("editions", "/api/edition", "What is live, and what was."),
        ("tape", "/api/tape", "Carts priced beside what is being written."),
        ("review", "/api/", "What a promotion does, before it does it."),
        ("codes", "/api/codes", "Codes of promotions and of batches."),
        ("batches", "/api/batches", "Codes made or brought by the many."),
        ("selling", "/api/orders", "Orders, keys, stock and shoppers, as the merchant keeps them."),
        ("shop", "/api/shop", "The shop: its settings, goods and shoppers."),
        ("files", "/schemas", "The forms of documents, and any case priced whole."),
        ("operating", "/healthz", "Whether the program lives and can do its work."),
    ];

    // By the operation's id: its heading, and what it does.
    private static readonly Dictionary<string, (string Tag, string Says)> Calls = new(StringComparer.Ordinal)
    {
        ["health"] = ("operating", "Whether the server lives"),
        ["ready"] = ("operating", "Whether the server can do all it is there for"),
        ["shop"] = ("shop", "The shop's settings, as its pages need them"),
        ["edition"] = ("editions", "The edition that is live now"),
        ["amounts"] = ("shop", "An amount in every currency of the store"),
        ["shoppers"] = ("shop", "Shoppers by name, id or group"),
        ["terms"] = ("shop", "Categories, brands, products, items and tags by their names"),
        ["items"] = ("shop", "Items by their names"),
        ["shelf"] = ("shop", "The goods as a shopper sees them, at their prices now"),
        ["selection"] = ("shop", "What a selection holds"),
        ["editions"] = ("editions", "The editions, the newest first"),
        ["compareEditions"] = ("editions", "What two editions differ in"),
        ["priceEditions"] = ("editions", "A cart under two editions"),
        ["restoreEdition"] = ("editions", "Put an old edition live again, as a new one"),
        ["tape"] = ("tape", "Price a cart beside what is being written"),
        ["tapeAsCase"] = ("tape", "All that the tape was priced with, as a case"),
        ["schema"] = ("files", "The JSON Schema of a case, a promotion or a result"),
        ["price"] = ("files", "Price a case"),
        ["says"] = ("review", "What a shopper reads of a promotion"),
        ["curve"] = ("review", "What is paid with more and more of an item"),
        ["review"] = ("review", "A second look at a promotion"),
        ["most"] = ("review", "The most that a number may give"),
        ["codes"] = ("codes", "Codes by how they begin"),
        ["codeStory"] = ("codes", "What is known of a code"),
        ["codeQr"] = ("codes", "A code's link as a QR code"),
        ["voidCode"] = ("codes", "Make a code void, or valid again"),
        ["voidCodes"] = ("codes", "Make several codes void, or valid again"),
        ["batches"] = ("batches", "The batches of codes"),
        ["makeBatch"] = ("batches", "Make a batch of codes"),
        ["hardness"] = ("batches", "How hard such codes would be to guess"),
        ["bringBatch"] = ("batches", "Bring a batch of codes from a file"),
        ["voidBatch"] = ("batches", "Make a whole batch void, or valid again"),
        ["stopBatch"] = ("batches", "Stop making a batch"),
        ["exportBatch"] = ("batches", "A batch as a file"),
        ["keys"] = ("selling", "The keys of the store interface"),
        ["makeKey"] = ("selling", "Make a key of the store interface"),
        ["withdrawKey"] = ("selling", "Withdraw a key"),
        ["stock"] = ("selling", "What is left of items"),
        ["setStock"] = ("selling", "Set or move what is left of an item"),
        ["uncountStock"] = ("selling", "Let the stock of an item be as the catalogue says"),
        ["forgetShopper"] = ("selling", "Forget a shopper"),
        ["orderRows"] = ("selling", "Orders, those that changed last first"),
        ["orderPage"] = ("selling", "An order"),
        ["takeByHand"] = ("selling", "An order was paid, by hand"),
        ["giveBackByHand"] = ("selling", "Give an order back, by hand"),
        ["counterKey"] = ("selling", "The key of the program's own counter"),
        ["promotions"] = ("promotions", "The promotions, as listed"),
        ["begin"] = ("promotions", "Begin a promotion"),
        ["findings"] = ("promotions", "What second looks at several promotions find"),
        ["promotion"] = ("promotions", "A promotion"),
        ["keepDraft"] = ("promotions", "Keep a draft as typed"),
        ["dropDraft"] = ("promotions", "Throw a draft away"),
        ["putLive"] = ("promotions", "Put a promotion live"),
        ["pause"] = ("promotions", "Pause a promotion"),
        ["retire"] = ("promotions", "Retire a promotion"),
        ["resume"] = ("promotions", "Let a promotion go on"),
        ["redate"] = ("promotions", "Give a promotion other dates"),
        ["mean"] = ("promotions", "Say that a finding is meant as written"),
        ["history"] = ("promotions", "A promotion's versions, and when each was live"),
        ["copy"] = ("promotions", "Copy a promotion"),
        ["quote"] = ("store", "What a cart costs now"),
        ["placeOrder"] = ("store", "Place an order as it was shown"),
        ["changedOrders"] = ("store", "Orders that changed since, in order"),
        ["takeOrder"] = ("store", "An order was paid"),
        ["giveBackOrder"] = ("store", "Give an order back, all of it or some units"),
        ["order"] = ("store", "An order with its redemptions"),
        ["offers"] = ("store", "Offers that a shop can show"),
        ["storeHealth"] = ("store", "Whether the store can be sold from"),
    };

    /// <summary>Says it.</summary>
    public static void Describe(OpenApiDocument document)
    {
        // The address is the reader's own.
        document.Servers = [new OpenApiServer { Url = "/", Description = "Where this document is served" }];
        document.Info.Title = "Rapid Ledger";
        document.Info.Version = typeof(ApiDocument).Assembly.GetName().Version!.ToString(3);
        document.Info.Description = "Promotion rules of an online store, and what they do to carts. Under /store/v1 nothing is taken away or changes its meaning; what is new is added, so readers pass over members that they do not know.";
        document.Info.License = new() { Name = "All rights reserved", Url = new("about:blank", UriKind.RelativeOrAbsolute) };
        document.Tags = new HashSet<OpenApiTag>(Tags.Select(tag => new OpenApiTag { Name = tag.Tag, Description = tag.Says }));
        document.Components!.SecuritySchemes = new Dictionary<string, IOpenApiSecurityScheme>(StringComparer.Ordinal)
        {
            [Key] = new OpenApiSecurityScheme { Type = SecuritySchemeType.Http, Scheme = "bearer", Description = "A store key (RFC 6750), made in the place Store or by `rapid-ledger key new server|page`." },
        };
        ((OpenApiSchema)((OpenApiSchema)document.Components.Schemas!["Problem"]).Properties!["code"]).Enum = [.. ProblemCode.All.Select(code => (JsonNode)code)];
        document.Components.Schemas.Remove(nameof(JsonObject));
        // What may be anything may be nothing, which need not be said a second time.
        foreach (var form in document.Components.Schemas.Values.OfType<OpenApiSchema>())
            foreach (var (name, member) in form.Properties?.ToArray() ?? [])
                if (member.OneOf?.OfType<OpenApiSchemaReference>().FirstOrDefault(one => one.Reference.Id == nameof(System.Text.Json.JsonElement)) is { } anything) form.Properties![name] = anything;
        foreach (var (path, item) in document.Paths)
        {
            // Asking for the head only needs no description.
            item.Operations!.Remove(HttpMethod.Head);
            foreach (var (_, operation) in item.Operations) Describe(operation, path, document);
        }
    }

    private static void Describe(OpenApiOperation operation, string path, OpenApiDocument document)
    {
        var (tag, says) = Calls[operation.OperationId!];
        operation.Summary = says;
        operation.Tags = new HashSet<OpenApiTagReference> { new(tag, document) };
        var needsKey = path.StartsWith("/store/", StringComparison.Ordinal) && operation.OperationId != "storeHealth";
        operation.Security = needsKey ? [new OpenApiSecurityRequirement { [new OpenApiSecuritySchemeReference(Key, document)] = [] }] : [];
        foreach (var parameter in (operation.Parameters ?? []).OfType<OpenApiParameter>().Where(parameter => parameter.Name == "Idempotency-Key"))
        {
            parameter.Required = true;
            parameter.Description = "Anything of at most 255 characters that is this call's own, so that it can be sent again: the same answer comes (IETF draft, The Idempotency-Key HTTP Header Field).";
            parameter.Schema = new OpenApiSchema { Type = JsonSchemaType.String, MinLength = 1, MaxLength = 255 };
        }

        if (operation.OperationId is "quote" or "placeOrder")
            (operation.Parameters ??= []).Add(new OpenApiParameter
            {
                Name = "Store-Client",
                In = ParameterLocation.Header,
                Description = "For whom a server asks, in any form: unknown codes are counted for each. Without it all that a server key asks for is counted as one.",
                Schema = new OpenApiSchema { Type = JsonSchemaType.String },
            });
        // Whatever is asked for by a name that is not the server's own is refused.
        if (operation.Responses?.Keys.Any(status => status.StartsWith('4')) == false)
            operation.Responses["421"] = new OpenApiResponse
            {
                Description = "Misdirected Request",
                Content = new Dictionary<string, OpenApiMediaType>(StringComparer.Ordinal) { [Refusal.MediaType] = new() { Schema = new OpenApiSchemaReference(nameof(Refusal), document) } },
            };
        foreach (var (status, response) in operation.Responses ?? [])
        {
            if (status is not ("429" or "503") || response is not OpenApiResponse described) continue;
            (described.Headers ??= new Dictionary<string, IOpenApiHeader>(StringComparer.Ordinal))["Retry-After"] =
                new OpenApiHeader { Description = "In how many seconds to come again.", Schema = new OpenApiSchema { Type = JsonSchemaType.Integer } };
        }
    }
}
