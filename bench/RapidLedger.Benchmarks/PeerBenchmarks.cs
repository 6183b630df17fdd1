using System.Linq.Expressions;
using BenchmarkDotNet.Attributes;
using NRules;
using NRules.RuleModel;
using NRules.RuleModel.Builders;
using RapidLedger.Pricing;
using RulesEngine.Models;

namespace RapidLedger.Benchmarks;

/// <summary>What a rule engine is asked about a cart.</summary>
public sealed class CartFacts(Cart cart)
{
    private readonly Dictionary<string, int> units = cart
        .Lines.ToArray()
        .GroupBy(line => line.Sku.Split('-')[0])
        .ToDictionary(group => group.Key, group => group.Sum(line => line.Quantity));
    private readonly HashSet<string> codes = [.. cart.Codes];

    public long At { get; } = cart.At.ToUnixTimeSeconds();

    public string? Country { get; } = cart.Destination?.Country;

    public long Spent { get; init; }

    public int Of(string product) => units.GetValueOrDefault(product);

    public bool Has(string code) => codes.Contains(code);
}

/// <summary>
/// General-purpose rule engines deciding eligibility alone, for the same promotions and cart, beside the whole pricing here.
/// </summary>
public class PeerBenchmarks
{
    private const int Promotions = 1_000;

    private Rulebook rulebook = null!;
    private Cart cart = null!;
    private CartFacts facts = null!;
    private RulesEngine.RulesEngine rulesEngine = null!;
    private ISessionFactory nrules = null!;

    [GlobalSetup]
    public void Prepare()
    {
        var promotions = Shop.Promotions(Promotions);
        rulebook = Rulebook.Compile(Shop.Store, Shop.Catalogue(50_000), promotions);
        cart = Shop.Cart(20);
        facts = new(cart) { Spent = rulebook.Price(cart).Totals.Goods };
        var asked = promotions
            .Select(promotion => (promotion.Id, Tests: TestsOf(promotion).DefaultIfEmpty(new("true", cart => true)).ToArray()))
            .ToArray();
        rulesEngine = new([
            new Workflow
            {
                WorkflowName = "eligible",
                Rules =
                [
                    .. asked.Select(one => new RulesEngine.Models.Rule
                    {
                        RuleName = one.Id,
                        Expression = string.Join(" && ", one.Tests.Select(test => test.Text)),
                    }),
                ],
            },
        ]);
        var repository = new Repository(asked);
        nrules = repository.Compile();
    }

    [Benchmark(Baseline = true)]
    public PricedCart WholePricing() => rulebook.Price(cart);

    [Benchmark]
    public int EligibilityByRulesEngine() =>
        rulesEngine
            .ExecuteAllRulesAsync("eligible", new RuleParameter("cart", facts))
            .GetAwaiter()
            .GetResult()
            .Count(result => result.IsSuccess);

    [Benchmark]
    public int EligibilityByNRules()
    {
        var session = nrules.CreateSession();
        session.Insert(facts);
        return session.Fire();
    }

    // What makes a promotion eligible: its code, its window, its condition, and that something it is on is there.
    private static IEnumerable<Question> TestsOf(Promotion promotion)
    {
        foreach (var code in (promotion.Trigger?.Codes ?? []).ToArray())
            yield return new($"cart.Has(\"{code}\")", cart => cart.Has(code));
        if (promotion.Window?.In(Shop.Store.Zone) is { } window)
        {
            var (opens, closes) = (window.Opens.ToUnixTimeSeconds(), window.Closes.ToUnixTimeSeconds());
            yield return new($"cart.At >= {opens} && cart.At < {closes}", cart => cart.At >= opens && cart.At < closes);
        }

        foreach (
            var condition in promotion.When switch
            {
                null => [],
                AllOf(var parts) => [.. parts],
                var one => new[] { one },
            }
        )
        {
            switch (condition)
            {
                case Quantity { Of.In: [Term.OfProduct(var product), ..], Number: var least }:
                    yield return new($"cart.Of(\"{product}\") >= {least}", cart => cart.Of(product) >= least);
                    break;
                case Spend { From: { } from }:
                    var spend = from.Find(Shop.Eur)!.Value;
                    yield return new($"cart.Spent >= {spend}", cart => cart.Spent >= spend);
                    break;
                case Destination { Places.In: [var place, ..] }:
                    yield return new($"cart.Country == \"{place.Code}\"", cart => cart.Country == place.Code);
                    break;
                default:
                    throw new InvalidOperationException($"{condition} is not put to the engines.");
            }
        }

        if (promotion.Rewards[0] is Discount { On.In: [Term.OfProduct(var on), ..] })
            yield return new($"cart.Of(\"{on}\") >= 1", cart => cart.Of(on) >= 1);
    }

    // The same question in the words of both engines.
    private sealed record Question(string Text, Expression<Func<CartFacts, bool>> Condition);

    private sealed class Repository((string Id, Question[] Tests)[] asked) : IRuleRepository
    {
        public IEnumerable<IRuleSet> GetRuleSets()
        {
            var rules = new RuleSet("eligible");
            rules.Add(asked.Select(Define));
            return [rules];
        }

        private static IRuleDefinition Define((string Id, Question[] Tests) one)
        {
            var builder = new RuleBuilder();
            builder.Name(one.Id);
            var pattern = builder.LeftHandSide().Pattern(typeof(CartFacts), "cart");
            foreach (var test in one.Tests)
                pattern.Condition(test.Condition);
            Expression<Action<IContext>> action = context => Done();
            builder.RightHandSide().Action(action);
            return builder.Build();
        }

        private static void Done() { }
    }
}
