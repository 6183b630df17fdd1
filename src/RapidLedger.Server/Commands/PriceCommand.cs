using System.CommandLine;
using System.Text;
using RapidLedger.Formats;

namespace RapidLedger.Server.Commands;

/// <summary><c>price</c>: cases in, one a line; results out, one a line, in order.</summary>
internal static class PriceCommand
{
    public static Command Create()
    {
        var effort = EffortOption.Create();
        var command = new Command(
            "price",
            "Reads cases from standard input, one JSON document a line, and writes one result a line. Exits with 1 if one was refused."
        )
        {
            effort,
        };
        command.SetAction(
            (parsed, cancelled) => Run(Console.OpenStandardInput(), Console.OpenStandardOutput(), parsed.GetValue(effort), cancelled)
        );
        return command;
    }

    internal static async Task<int> Run(Stream input, Stream output, int effort, CancellationToken cancelled)
    {
        using var reader = new StreamReader(input, Encoding.UTF8);
        var exit = 0;
        while (await reader.ReadLineAsync(cancelled) is { } line)
        {
            if (string.IsNullOrWhiteSpace(line))
                continue;
            var (result, isPriced) = Price(Encoding.UTF8.GetBytes(line), effort, cancelled);
            if (!isPriced)
                exit = 1;
            try
            {
                await output.WriteAsync(result, cancelled);
                output.WriteByte((byte)'\n');
                await output.FlushAsync(cancelled);
            }
            catch (IOException)
            {
                // Whoever reads has gone away: there is nobody to tell anything.
                return exit;
            }
        }

        return exit;
    }

    // A line that anything at all goes wrong with yields problems, and the run goes on.
    private static (byte[] Result, bool IsPriced) Price(byte[] line, int effort, CancellationToken cancelled)
    {
        try
        {
            var reading = CaseReader.Read(line);
            return (ResultWriter.Write(reading, effort, cancelled), reading.Value is not null);
        }
        catch (Exception error) when (error is not OperationCanceledException)
        {
            return (
                ResultWriter.Write([
                    new Problem("", ProblemCode.Failed, $"This could not be priced, by a fault of this program: {error.Message}"),
                ]),
                false
            );
        }
    }
}
