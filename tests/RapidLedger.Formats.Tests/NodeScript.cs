using System.Diagnostics;
using System.Text.Json;

namespace RapidLedger.Formats.Tests;

/// <summary>Runs a script with the general-purpose libraries of tests/references.</summary>
internal static class NodeScript
{
    public static JsonElement Ask(string script, string input)
    {
        var folder = new DirectoryInfo(AppContext.BaseDirectory);
        while (!File.Exists(Path.Combine(folder.FullName, "RapidLedger.slnx")))
            folder = folder.Parent!;
        using var node = Process.Start(
            new ProcessStartInfo(
                "node",
                ["--input-type=module", "--eval", $"const asked = JSON.parse(await new Response(process.stdin).text());{script}"]
            )
            {
                WorkingDirectory = Path.Combine(folder.FullName, "tests", "references"),
                RedirectStandardInput = true,
                RedirectStandardOutput = true,
            }
        )!;
        var output = node.StandardOutput.ReadToEndAsync();
        node.StandardInput.Write(input);
        node.StandardInput.Close();
        return JsonDocument.Parse(output.Result).RootElement;
    }
}
