using System.Linq.Expressions;
using BenchmarkDotNet.Attributes;
using NRules;
using NRules.RuleModel;
using NRules.RuleModel.Builders;
using RapidLedger.Pricing;
using RulesEngine.Models;

namespace RapidLedger.Benchmarks;

/// <summary>What a rule engine is asked about a cart.</summary>
public sealed class CartFacts(Dictionary<string, int> units)
{
    public int Of(string product) => units.GetValueOrDefault(product);
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
        facts = new(cart.Lines.ToArray().GroupBy(line => line.Sku.Split('-')[0]).ToDictionary(group => group.Key, group => group.Sum(line => line.Quantity)));
        var asked = promotions.Select(promotion => (promotion.Id, Product: ProductOf(promotion), Least: promotion.When is Quantity quantity ? (int)quantity.Number : 1)).ToArray();
        rulesEngine = new(
        [
            new Workflow
            {
                WorkflowName = "eligible",
                Rules = [.. asked.Select(one => new RulesEngine.Models.Rule { RuleName = one.Id, Expression = $"cart.Of(\"{one.Product}\") >= {one.Least}" })],
            },
        ]);
        var repository = new Repository(asked);
        nrules = repository.Compile();
    }

    [Benchmark(Baseline = true)]
    public PricedCart WholePricing() => rulebook.Price(cart);

    [Benchmark]
    public int EligibilityByRulesEngine() =>
        rulesEngine.ExecuteAllRulesAsync("eligible", new RuleParameter("cart", facts)).GetAwaiter().GetResult().Count(result => result.IsSuccess);

    [Benchmark]
    public int EligibilityByNRules()
    {
        var session = nrules.CreateSession();
        session.Insert(facts);
        return session.Fire();
    }

    private static string ProductOf(Promotion promotion) =>
        promotion.Rewards[0] is Discount { On.In: [Term.OfProduct(var product), ..] } ? product : "p0";

    private sealed class Repository((string Id, string Product, int Least)[] asked) : IRuleRepository
    {
        public IEnumerable<IRuleSet> GetRuleSets()
        {
            var rules = new RuleSet("eligible");
            rules.Add(asked.Select(Define));
            return [rules];
        }

        private static IRuleDefinition Define((string Id, string Product, int Least) one)
        {
            var builder = new RuleBuilder();
            builder.Name(one.Id);
            var pattern = builder.LeftHandSide().Pattern(typeof(CartFacts), "cart");
            Expression<Func<CartFacts, bool>> condition = cart => cart.Of(one.Product) >= one.Least;
            pattern.Condition(condition);
            Expression<Action<IContext>> action = context => Done();
            builder.RightHandSide().Action(action);
            return builder.Build();
        }

        private static void Done()
        {
        }
    }
}
