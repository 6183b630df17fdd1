using System.CommandLine;
using RapidLedger.Pricing;

namespace RapidLedger.Server.Commands;

/// <summary><c>--effort</c>: how much work a pricing may put into its choice.</summary>
internal static class EffortOption
{
    public static Option<int> Create()
    {
        var effort = new Option<int>("--effort")
        {
            Description =
                $"How much work may be put into the choice among promotions, as a multiple of the default: 1 to {Rulebook.MostEffort}.",
            DefaultValueFactory = _ => 1,
        };
        effort.Validators.Add(result =>
        {
            if (result.Tokens is [var token] && !(int.TryParse(token.Value, out var value) && value is >= 1 and <= Rulebook.MostEffort))
                result.AddError($"'{token.Value}' is no effort. Write a whole number from 1 to {Rulebook.MostEffort}.");
        });
        return effort;
    }
}
