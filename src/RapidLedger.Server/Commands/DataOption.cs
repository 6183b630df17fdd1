using System.CommandLine;
using RapidLedger.Storage;

namespace RapidLedger.Server.Commands;

/// <summary><c>--data</c>: the SQLite file.</summary>
internal static class DataOption
{
    public static Option<string> Create(bool isMade = false) =>
        new("--data")
        {
            Description = $"The SQLite file{(isMade ? "; it is made if it is not there" : "")}.",
            DefaultValueFactory = _ => "rapid-ledger.db",
        };

    /// <summary>Opens a store that is there: only <c>serve</c> makes one, so that a typing error makes none.</summary>
    /// <exception cref="StorageFault">It is not there, or cannot be opened.</exception>
    public static Database OpenExisting(string path)
    {
        if (!File.Exists(path))
            throw new StorageFault(
                $"There is no store at {Path.GetFullPath(path)}. Name the one that is served with --data; 'serve' makes one."
            );
        var database = new Database(path);
        database.Upgrade();
        return database;
    }
}
