using System.Text.Json.Nodes;
using Microsoft.OpenApi;
using Microsoft.OpenApi.Reader;
using RapidLedger.Formats;
using RapidLedger.Server.Tape;

namespace RapidLedger.Server.Selling;

/// <summary>The forms of what the store interface answers, in the OpenAPI document: those of the published schemas.</summary>
internal static class StoreForms
{
    /// <summary>Puts them in, and refers to them wherever they stand.</summary>
    public static void Describe(OpenApiDocument document)
    {
        var forms = document.Components!.Schemas!;
        Add(nameof(Schemas.StoreResult), Schemas.StoreResult());
        Add(nameof(Schemas.Shown), Schemas.Shown());
        Add(nameof(Schemas.Order), Schemas.Order(new JsonObject { ["$ref"] = $"#/components/schemas/{nameof(Schemas.StoreResult)}" }));
        var (result, shown, order) = (Form(nameof(Schemas.StoreResult)), Form(nameof(Schemas.Shown)), Form(nameof(Schemas.Order)));
        Add(nameof(Schemas.StoreCart), Schemas.StoreCart());
        static JsonObject Reference(string name) => new() { ["$ref"] = $"#/components/schemas/{name}" };
        Add(
            nameof(Schemas.PlacingConflict),
            Schemas.PlacingConflict(Reference(nameof(Problem)), Reference(nameof(Schemas.Shown)), Reference(nameof(Schemas.StoreResult)))
        );
        var cart = Form(nameof(Schemas.StoreCart));
        Member(nameof(QuoteRequest), "cart", cart);
        Member(nameof(PlaceRequest), "cart", cart);
        ((OpenApiResponse)document.Paths["/store/v1/orders"].Operations![HttpMethod.Post].Responses!["409"])
            .Content!.Values.First()
            .Schema = Form(nameof(Schemas.PlacingConflict));
        Member(nameof(Quote), "result", result);
        Member(nameof(Quote), "shown", shown);
        Member(nameof(PlaceRequest), "shown", shown);
        Member(nameof(TapeAnswer), "asShopper", new OpenApiSchema { OneOf = [new OpenApiSchema { Type = JsonSchemaType.Null }, result] });
        Member(nameof(ChangedOrders), "orders", new OpenApiSchema { Type = JsonSchemaType.Array, Items = order });
        foreach (
            var operation in document
                .Paths.Where(path =>
                    path.Key.StartsWith("/store/v1/orders/", StringComparison.Ordinal)
                    || path.Key == "/store/v1/orders"
                    || path.Key.StartsWith("/api/orders/", StringComparison.Ordinal)
                )
                .SelectMany(path => path.Value.Operations!.Values)
        )
        {
            foreach (var (status, response) in operation.Responses!)
                if (
                    status is "200" or "201"
                    && operation.OperationId is not ("changedOrders" or "orderRules")
                    && response.Content?.Values.FirstOrDefault() is OpenApiMediaType content
                )
                    content.Schema = order;
        }

        void Add(string name, JsonObject form)
        {
            var schema = OpenApiModelFactory.Parse<OpenApiSchema>(
                form.ToJsonString(),
                OpenApiSpecVersion.OpenApi3_1,
                document,
                out var diagnostic
            ) ?? throw new InvalidOperationException($"The form {name} cannot be told.");
            if (diagnostic.Errors.Count > 0)
                throw new InvalidOperationException($"The form {name} cannot be told: {diagnostic.Errors[0].Message}");
            forms[name] = schema;
        }

        OpenApiSchemaReference Form(string name) => new(name, document);

        void Member(string of, string name, IOpenApiSchema form) => ((OpenApiSchema)forms[of]).Properties![name] = form;
    }
}
