using BenchmarkDotNet.Attributes;
using RapidLedger.Pricing;

namespace RapidLedger.Benchmarks;

/// <summary>Who meets whom: all pairs of some live promotions, and one of them against a thousand by what is written.</summary>
public class MeetingsBenchmarks
{
    private readonly Rulebook few = Rulebook.Compile(Shop.Store, Shop.Catalogue(400), Shop.Promotions(26));
    private readonly Rulebook many = Rulebook.Compile(Shop.Store, Shop.Catalogue(400), Shop.Promotions(1_000));

    [Benchmark]
    public int AllPairsOf26()
    {
        var meetings = new Meetings(few, Shop.Cart(1).At);
        string[] ids = [.. few.Promotions.Select(promotion => promotion.Id)];
        return ids.Index().Sum(one => ids.Skip(one.Index + 1).Count(other => meetings.Between(one.Item, other).Witness is not null));
    }

    [Benchmark]
    public int OneOf1000ByRule()
    {
        var meetings = new Meetings(many, Shop.Cart(1).At);
        string[] ids = [.. many.Promotions.Select(promotion => promotion.Id)];
        return ids.Skip(1).Count(other => meetings.ByRule(ids[0], other) is not null);
    }
}
