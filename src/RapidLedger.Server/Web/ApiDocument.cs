using System.Text.Json.Nodes;
using Microsoft.OpenApi;
using RapidLedger.Formats;

namespace RapidLedger.Server.Web;

/// <summary>
/// What the OpenAPI document says beside the forms and what stands at each endpoint: the headings, with which key, and which headers come
/// with it.
/// </summary>
internal static class ApiDocument
{
    private const string Key = "storeKey";

    private static readonly (string Tag, string Says)[] Tags =
    [
        ("store", "The store interface, for a shop's server and its pages: prices, orders, offers. Every call carries a store key."),
        ("promotions", "Promotions as the merchant writes them."),
        ("editions", "What is live, and what was."),
        ("tape", "Carts priced beside what is being written."),
        ("review", "What a promotion does, before it does it."),
        ("codes", "Codes of promotions and of batches."),
        ("batches", "Codes made or brought by the many."),
        ("selling", "Orders, keys and stock, as the merchant keeps them."),
        ("shoppers", "Shoppers, as the merchant keeps them."),
        ("shop", "The shop: its settings, goods and shoppers."),
        ("files", "The forms of documents, and any case priced whole."),
        ("operating", "Whether the program lives and can do its work."),
    ];

    /// <summary>Says it.</summary>
    public static void Describe(OpenApiDocument document)
    {
        // The address is the reader's own.
        document.Servers = [new OpenApiServer { Url = "/", Description = "Where this document is served" }];
        document.Info.Title = "Rapid Ledger";
        document.Info.Version = typeof(ApiDocument).Assembly.GetName().Version!.ToString(3);
        document.Info.Description =
            "Promotion rules of an online store, and what they do to carts. Under /store/v1 nothing is taken away or changes its meaning; what is new is added, so readers pass over members that they do not know.";
        document.Info.License = new() { Name = "All rights reserved", Url = new("about:blank", UriKind.RelativeOrAbsolute) };
        document.Tags = new HashSet<OpenApiTag>(Tags.Select(tag => new OpenApiTag { Name = tag.Tag, Description = tag.Says }));
        document.Components!.SecuritySchemes = new Dictionary<string, IOpenApiSecurityScheme>(StringComparer.Ordinal)
        {
            [Key] = new OpenApiSecurityScheme
            {
                Type = SecuritySchemeType.Http,
                Scheme = "bearer",
                Description = "A store key (RFC 6750), made in the place Store or by `rapid-ledger key new server|page`.",
            },
        };
        ((OpenApiSchema)((OpenApiSchema)document.Components.Schemas!["Problem"]).Properties!["code"]).Enum =
        [
            .. ProblemCode.All.Select(code => (JsonNode)code),
        ];
        document.Components.Schemas.Remove(nameof(JsonObject));
        // What may be anything may be nothing, which need not be said a second time.
        foreach (var form in document.Components.Schemas.Values.OfType<OpenApiSchema>())
        foreach (var (name, member) in form.Properties?.ToArray() ?? [])
            if (
                member
                    .OneOf?.OfType<OpenApiSchemaReference>()
                    .FirstOrDefault(one => one.Reference.Id == nameof(System.Text.Json.JsonElement)) is
                { } anything
            )
                form.Properties![name] = anything;
        foreach (var (path, item) in document.Paths)
        {
            // Asking for the head only needs no description.
            item.Operations!.Remove(HttpMethod.Head);
            foreach (var (_, operation) in item.Operations)
                Describe(operation, path, document);
        }
    }

    private static void Describe(OpenApiOperation operation, string path, OpenApiDocument document)
    {
        var needsKey = path.StartsWith("/store/", StringComparison.Ordinal) && operation.OperationId != "storeHealth";
        operation.Security = needsKey ? [new OpenApiSecurityRequirement { [new OpenApiSecuritySchemeReference(Key, document)] = [] }] : [];
        foreach (
            var parameter in (operation.Parameters ?? []).OfType<OpenApiParameter>().Where(parameter => parameter.Name == "Idempotency-Key")
        )
        {
            parameter.Required = true;
            parameter.Description =
                "Anything of at most 255 characters that is this call's own, so that it can be sent again: the same answer comes (IETF draft, The Idempotency-Key HTTP Header Field).";
            parameter.Schema = new OpenApiSchema
            {
                Type = JsonSchemaType.String,
                MinLength = 1,
                MaxLength = 255,
            };
        }

        if (operation.OperationId is "quote" or "placeOrder")
            (operation.Parameters ??= []).Add(
                new OpenApiParameter
                {
                    Name = "Store-Client",
                    In = ParameterLocation.Header,
                    Description =
                        "For whom a server asks, in any form: unknown codes are counted for each. Without it all that a server key asks for is counted as one.",
                    Schema = new OpenApiSchema { Type = JsonSchemaType.String },
                }
            );
        // Whatever is asked for by a name that is not the server's own is refused.
        if (operation.Responses?.Keys.Any(status => status.StartsWith('4')) == false)
            operation.Responses["421"] = new OpenApiResponse
            {
                Description = "Misdirected Request",
                Content = new Dictionary<string, OpenApiMediaType>(StringComparer.Ordinal)
                {
                    [Refusal.MediaType] = new() { Schema = new OpenApiSchemaReference(nameof(Refusal), document) },
                },
            };
        foreach (var (status, response) in operation.Responses ?? [])
        {
            if (status is not ("429" or "503") || response is not OpenApiResponse described)
                continue;
            (described.Headers ??= new Dictionary<string, IOpenApiHeader>(StringComparer.Ordinal))["Retry-After"] = new OpenApiHeader
            {
                Description = "In how many seconds to come again.",
                Schema = new OpenApiSchema { Type = JsonSchemaType.Integer },
            };
        }
    }
}
