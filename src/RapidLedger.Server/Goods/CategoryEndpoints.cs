using System.Text.Json.Nodes;
using NodaTime;
using RapidLedger.Formats;
using RapidLedger.Pricing;
using RapidLedger.Server.Goods.Importing;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Goods;

/// <summary>A category as it is to be.</summary>
/// <param name="Id">Which; null: a new one.</param>
/// <param name="Name">What people call it.</param>
/// <param name="Parent">The category in which it lies; null: none.</param>
internal sealed record WriteCategoryRequest(string? Id, string Name, string? Parent);

/// <summary>The tree of categories: written, moved, taken out, each a step that can be taken back.</summary>
internal static class CategoryEndpoints
{
    private const int LongestName = 200;

    public static void MapCategories(this IEndpointRouteBuilder routes)
    {
        routes
            .MapGet("/api/goods/categories", Tree)
            .Produces<GoodsCategory[]>()
            .Says("goodsCategories", "goods", "The categories with how many items are in each");
        routes
            .MapPut("/api/goods/categories", Put)
            .Produces<GoodsWritten>()
            .Refuses(400, 404, 413, 415, 422, 503)
            .Says("writeCategory", "goods", "Make a category, call it something else, or move it");
        routes
            .MapDelete("/api/goods/categories/{id}", TakeOut)
            .Produces<GoodsWritten>()
            .Refuses(404, 409, 503)
            .Says("takeCategoryOut", "goods", "Take an empty category out");
    }

    private static GoodsCategory[] Tree(OpenShop shop)
    {
        var catalogue = shop.Catalogue;
        var counts = Counts(catalogue);
        return
        [
            .. catalogue
                .Catalogue.Categories.Where(category => !category.Gone)
                .Select(category => new GoodsCategory(category.Id, category.Name, category.Parent, counts.GetValueOrDefault(category.Id))),
        ];
    }

    private static async Task<IResult> Put(WriteCategoryRequest request, StepRepository steps, OpenShop shop, IClock clock)
    {
        await shop.FollowSetup();
        var setup = shop.Setup;
        var categories = setup.Catalogue.Categories;
        var name = request.Name.Trim();
        if (name.Length is 0 or > LongestName)
            return Answers.Refused("/name", ProblemCode.Missing, $"A category needs a name of 1 to {LongestName} characters.");
        if (request.Id is { } known && (!categories.TryGetValue(known, out var now) || now.Gone))
            return NoCategory(known);
        if (request.Parent is { } parent && (!categories.TryGetValue(parent, out var above) || above.Gone))
            return Answers.Refused("/parent", ProblemCode.UnknownCategory, $"There is no category '{parent}'.");
        if (
            categories.Values.FirstOrDefault(other =>
                other.Id != request.Id && !other.Gone && other.Parent == request.Parent && other.Name.Trim() == name
            ) is
            { } same
        )
            return Answers.Refused("/name", ProblemCode.Duplicate, $"There is a category “{same.Name}” in the same place already.");

        var id = request.Id ?? CategoryId.Of(name, categories.ContainsKey);
        var members = new JsonObject
        {
            ["id"] = id,
            ["name"] = name,
            ["parent"] = request.Parent,
        };
        var problems = new List<Problem>();
        var rules = new GoodsRules(setup, []);
        bool Accepts(ChangedRow row)
        {
            problems.AddRange(rules.Problems(row));
            return problems.Count == 0;
        }

        RowChange[] change = [new("category", id, members)];
        var rows = steps.Preview(change).OfType<ChangedRow>().Where(Accepts).ToArray();
        if (problems.Count > 0)
            return Answers.Refused(problems);
        var (promotions, carts) = ImportEffects.Of(rows, shop, clock.GetCurrentInstant());
        var outcome = await steps.Write(StepSource.App, Words(request, categories, name), change, [], Accepts);
        await shop.FollowSetup();
        return problems.Count > 0
            ? Answers.Refused(problems)
            : Results.Ok(new GoodsWritten(outcome.Number, outcome.Changed, [.. promotions, .. carts]));
    }

    private static async Task<IResult> TakeOut(string id, StepRepository steps, OpenShop shop)
    {
        await shop.FollowSetup();
        var catalogue = shop.Catalogue;
        if (!catalogue.Categories.TryGetValue(id, out var category) || category.Gone)
            return NoCategory(id);
        var (items, below) = (
            Counts(catalogue).GetValueOrDefault(id),
            catalogue.Categories.Values.Count(other => !other.Gone && other.Parent == id)
        );
        if (items > 0 || below > 0)
            return Answers.Refused(
                StatusCodes.Status409Conflict,
                [
                    new(
                        "",
                        ProblemCode.Conflict,
                        $"{Wording.Counted(items, "item")} and {Wording.Number(below)} {Wording.Plural(below, "category", "categories")} lie in “{category.Name}”. Move them first."
                    ),
                ]
            );
        var outcome = await steps.Write(
            StepSource.App,
            $"the category {category.Name} taken out",
            [new("category", id, new() { ["gone"] = true })],
            [],
            _ => true
        );
        await shop.FollowSetup();
        return Results.Ok(new GoodsWritten(outcome.Number, outcome.Changed, []));
    }

    private static string Words(WriteCategoryRequest request, IReadOnlyDictionary<string, Category> categories, string name)
    {
        if (request.Id is null)
            return $"a new category {name}";
        var was = categories[request.Id];
        if (was.Parent == request.Parent)
            return $"the category {was.Name} is called {name}";
        return request.Parent is { } parent ? $"{name} moved into {categories[parent].Name}" : $"{name} moved to the top";
    }

    // Of each category with those that lie in it.
    private static Dictionary<string, int> Counts(CatalogueIndex catalogue)
    {
        var counts = new Dictionary<string, int>(StringComparer.Ordinal);
        foreach (var product in catalogue.Catalogue.Products)
        {
            var items = product.Variants.Count(variant => !variant.Gone);
            for (var id = product.Category; id is not null && items > 0; id = catalogue.Categories[id].Parent)
                counts[id] = counts.GetValueOrDefault(id) + items;
        }

        return counts;
    }

    private static IResult NoCategory(string id) => Answers.NotFound(ProblemCode.UnknownCategory, $"There is no category '{id}' any more.");
}
