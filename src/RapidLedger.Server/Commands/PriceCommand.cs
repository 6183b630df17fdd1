using System.CommandLine;
using System.Text;
using RapidLedger.Formats;

namespace RapidLedger.Server.Commands;

/// <summary><c>price</c>: cases in, one a line; results out, one a line, in order.</summary>
internal static class PriceCommand
{
    public static Command Create()
    {
        var command = new Command("price", "Reads cases from standard input, one JSON document a line, and writes one result a line.");
        command.SetAction((_, cancelled) => Run(Console.OpenStandardInput(), Console.OpenStandardOutput(), cancelled));
        return command;
    }

    internal static async Task<int> Run(Stream input, Stream output, CancellationToken cancelled)
    {
        using var reader = new StreamReader(input, Encoding.UTF8);
        while (await reader.ReadLineAsync(cancelled) is { } line)
        {
            if (string.IsNullOrWhiteSpace(line)) continue;
            await output.WriteAsync(ResultWriter.Write(CaseReader.Read(Encoding.UTF8.GetBytes(line))), cancelled);
            output.WriteByte((byte)'\n');
            await output.FlushAsync(cancelled);
        }

        return 0;
    }
}
