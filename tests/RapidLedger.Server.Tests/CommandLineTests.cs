using System.Text.Json.Nodes;
using RapidLedger.Tests;

namespace RapidLedger.Server.Tests;

/// <summary>The command line, as a merchant's own pipeline uses it.</summary>
public class CommandLineTests
{
    private const string Case =
        """{"store":{"currency":"EUR"},"catalogue":{"products":[{"id":"p","name":"P","variants":[{"sku":"A","regular":"10.00"}]}]},"promotions":[{"id":"ten","rewards":[{"kind":"discount","on":{"in":[{"all":true}]},"take":{"percent":10},"per":"cart"}]}],"cart":{"at":"2027-03-05T10:00:00+01:00","lines":[{"sku":"A","quantity":3}]}}""";

    [Fact]
    public void Price_answers_line_by_line_and_goes_on_after_a_malformed_one()
    {
        var (exit, output, _) = RunningServer.Run($"{Case}\nnot json\n\n{Case}\n", "price");
        var lines = output.Split('\n', StringSplitOptions.RemoveEmptyEntries).Select(line => JsonNode.Parse(line)!).ToArray();
        // One line could not be priced.
        Assert.Equal(1, exit);
        Assert.Equal(3, lines.Length);
        Assert.Equal("27.00", (string)lines[0]["totals"]!["net"]!);
        Assert.Equal("notJson", (string)lines[1]["problems"]![0]!["code"]!);
        Assert.Equal(lines[0].ToJsonString(), lines[2].ToJsonString());
    }

    [Fact]
    public void A_reader_that_goes_away_ends_the_run_quietly_and_an_effort_that_is_none_is_said()
    {
        var cases = string.Concat(Enumerable.Repeat(Case + "\n", 3_000));
        Assert.Equal((0, ""), (RunningServer.Run(cases, "price", "--effort", "10") is var all ? all.Exit : -1, all.Errors));
        var (_, output, errors) = RunningServer.Shell($"{RunningServer.Executable} price | head -c 100", cases);
        Assert.Equal((100, ""), (output.Length, errors));
        Assert.Contains("is no effort", RunningServer.Run("", "price", "--effort", "1001").Errors);
        Assert.Contains(
            "language data",
            RunningServer.Shell($"DOTNET_SYSTEM_GLOBALIZATION_INVARIANT=1 {RunningServer.Executable} price", "").Errors
        );
    }

    [Fact]
    public void Check_prints_what_differs_and_says_so_by_its_exit_code()
    {
        var folder = Directory.CreateTempSubdirectory("check").FullName;
        var (right, wrong) = (Path.Combine(folder, "right.case.json"), Path.Combine(folder, "wrong.case.json"));
        // As some editors save it: UTF-16, with its mark.
        File.WriteAllText(right, Case[..^1] + ""","expect":{"totals":{"net":"27.00"}}}""", System.Text.Encoding.Unicode);
        File.WriteAllText(wrong, Case[..^1] + ""","expect":{"totals":{"net":"26.00"}}}""");

        Assert.Equal((0, "1 as expected, 0 not\n"), (RunningServer.Run("", "check", right) is var fine ? fine.Exit : -1, fine.Output));
        var (exit, output, _) = RunningServer.Run("", "check", right, wrong, Path.Combine(folder, "none.case.json"));
        Assert.Equal(1, exit);
        Assert.Contains("wrong.case.json/totals/net: expected \"26.00\", is \"27.00\"", output);
        Assert.Contains("none.case.json: there is no such file", output);
        Assert.Contains("1 as expected, 2 not", output);
        // What is refused is told by what is wrong with it.
        var refused = Path.Combine(folder, "refused.case.json");
        File.WriteAllText(refused, File.ReadAllText(wrong).Replace("\"percent\"", "\"percnt\"", StringComparison.Ordinal));
        var (_, told, _) = RunningServer.Run("", "check", refused);
        Assert.Contains("refused.case.json/promotions/0/rewards/0/take/percnt: 'percnt' is not a name that is known here.", told);
        Assert.DoesNotContain("is not there", told);
    }

    [Fact]
    public void What_is_mistyped_on_the_command_line_is_said()
    {
        Assert.NotEqual(0, RunningServer.Run("", "serve", "--bind", "here").Exit);
        Assert.Contains("is not a moment", RunningServer.Run("", "serve", "--clock", "noon").Errors);
    }
}
