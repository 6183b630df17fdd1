using System.Text.Json.Nodes;
using RapidLedger.Formats;
using RapidLedger.Server.Shop;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

namespace RapidLedger.Server.Words;

/// <summary>A word of the shop's own, and what holds it.</summary>
/// <param name="Option">Of a value the option's name.</param>
/// <param name="Word">The word.</param>
/// <param name="Items">How many products or variants.</param>
/// <param name="Shoppers">How many shoppers.</param>
/// <param name="Promotions">How many promotions, written or being written; retired ones apart.</param>
/// <param name="Carts">How many sample carts.</param>
internal sealed record WordRow(string? Option, string Word, int Items, long Shoppers, int Promotions, int Carts);

/// <summary>Words of a kind, by their name.</summary>
/// <param name="Count">How many match.</param>
internal sealed record WordRows(IReadOnlyList<WordRow> Words, int Count);

/// <summary>A word is to be called otherwise.</summary>
/// <param name="Kind">group, tag, brand, channel, option or family.</param>
/// <param name="Word">As it is.</param>
/// <param name="Becomes">As it is to be.</param>
/// <param name="Option">Of a value the option's name.</param>
internal sealed record RenameRequest(string Kind, string Word, string Becomes, string? Option = null);

/// <summary>A word is renamed.</summary>
/// <param name="Step">The step, by which it is taken back.</param>
/// <param name="Edition">The edition that is live now.</param>
internal sealed record WordRenamed(long? Step, long Edition);

/// <summary>The shop's words, which have no ids: groups, tags, brands, channels, values of options, families.</summary>
internal static class WordEndpoints
{
    private const int Most = 500;
    private const int Longest = 200;

    // What divides several of them in a cell.
    private static readonly char[] Dividers = [',', ';', '|', '='];

    public static void MapWords(this IEndpointRouteBuilder routes)
    {
        routes
            .MapGet("/api/words/{kind}", List)
            .Produces<WordRows>()
            .Refuses(404)
            .Says("words", "shop", "The shop's words of a kind, with what holds them");
        routes
            .MapPost("/api/words/rename", Rename)
            .Produces<WordRenamed>()
            .Refuses(400, 404, 413, 415, 422, 503)
            .Says("renameWord", "shop", "Rename a word, wherever it stands");
    }

    private static IResult List(string kind, string? q, OpenShop shop, ShopRepository repository)
    {
        if (!WordRename.Kinds.Contains(kind))
            return Answers.NotFound(ProblemCode.UnknownValue, $"Known are: {string.Join(", ", WordRename.Kinds)}.");
        var asked = q?.Trim() ?? "";
        var found = Words(kind, shop, repository)
            .Where(row => asked.Length == 0 || row.Word.Contains(asked, StringComparison.CurrentCultureIgnoreCase))
            .OrderBy(row => row.Option, StringComparer.Ordinal)
            .ThenBy(row => row.Word, StringComparer.Create(shop.Culture, ignoreCase: true))
            .ToArray();
        return Results.Ok(new WordRows([.. found.Take(Most)], found.Length));
    }

    private static async Task<IResult> Rename(RenameRequest request, OpenShop shop, ShopRepository repository, RenameRepository renames)
    {
        if (!WordRename.Kinds.Contains(request.Kind))
            return Answers.Refused("/kind", ProblemCode.UnknownValue, $"Known are: {string.Join(", ", WordRename.Kinds)}.");
        var becomes = request.Becomes.Trim();
        if (becomes.Length is 0 or > Longest)
            return Answers.Refused("/becomes", ProblemCode.Missing, $"A name of 1 to {Longest} characters is expected here.");
        if (becomes.IndexOfAny(Dividers) >= 0)
            return Answers.Refused(
                "/becomes",
                ProblemCode.NotAllowed,
                $"A name holds none of {string.Join(' ', Dividers)}: they divide names."
            );
        if (becomes == request.Word)
            return Answers.Refused("/becomes", ProblemCode.Conflict, "It is called so already.");
        var words = Words(request.Kind, shop, repository).Where(row => row.Option == request.Option).ToArray();
        if (words.All(row => row.Word != request.Word))
            return Answers.NotFound(ProblemCode.UnknownName, $"There is no {Said(request.Kind)} '{request.Word}'.");
        if (words.Any(row => row.Word == becomes))
            return Answers.Refused(
                "/becomes",
                ProblemCode.Duplicate,
                $"There is a {Said(request.Kind)} '{becomes}' already. Give it another name: two that become one cannot be told apart again."
            );
        var outcome = await renames.Rename(
            new(new(request.Kind, request.Option, request.Word), becomes),
            StepSource.App,
            $"the {Said(request.Kind)} {request.Word} is {becomes} now"
        );
        await shop.FollowSetup();
        return Results.Ok(new WordRenamed(outcome.Number, shop.Live.Number));
    }

    private static string Said(string kind) => kind == "option" ? "value" : kind;

    private static IEnumerable<WordRow> Words(string kind, OpenShop shop, ShopRepository repository)
    {
        var (settings, catalogue) = (shop.Settings, shop.Catalogue);
        var counted = new Dictionary<ShopWord, WordRow>();
        void Count(ShopWord word, Func<WordRow, WordRow> more)
        {
            if (word.Kind == kind)
                counted[word] = more(counted.GetValueOrDefault(word) ?? new(word.Option, word.Word, 0, 0, 0, 0));
        }

        // A product counts once for its brand and tags, a variant for its options.
        var products = new HashSet<(string Product, ShopWord Word)>();
        RenamedWords.Each(settings, catalogue, (word, number) =>
        {
            if (word.Kind != kind || number is not { } variant)
                Count(word, row => row);
            else if (!catalogue.Variant(variant).Gone && (kind == "option" || products.Add((catalogue.ProductOf(variant).Id, word))))
                Count(word, row => row with { Items = row.Items + 1 });
        });
        if (kind == "group")
            foreach (var (group, size) in repository.GroupSizes())
                Count(new("group", null, group), row => row with { Shoppers = size });
        foreach (var promotion in shop.Promotions.Where(promotion => promotion.Stored.State != "archived"))
        foreach (var word in WordsOf(promotion.Stored.Document).Concat(WordsOf(promotion.Stored.Draft)).Distinct())
            Count(word, row => row with { Promotions = row.Promotions + 1 });
        foreach (var cart in repository.Carts())
        foreach (var word in WordsOf(cart.Document).Distinct())
            Count(word, row => row with { Carts = row.Carts + 1 });
        return counted.Values;
    }

    private static IEnumerable<ShopWord> WordsOf(string? document)
    {
        try
        {
            return document is null ? [] : WordRename.WordsOf(JsonNode.Parse(document));
        }
        catch (System.Text.Json.JsonException)
        {
            return [];
        }
    }
}
