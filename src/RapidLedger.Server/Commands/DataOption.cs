using System.CommandLine;

namespace RapidLedger.Server.Commands;

/// <summary><c>--data</c>: the SQLite file.</summary>
internal static class DataOption
{
    public static Option<string> Create() => new("--data") { Description = "The SQLite file; it is made if it is not there.", DefaultValueFactory = _ => "rapid-ledger.db" };
}
