using System.CommandLine;

namespace RapidLedger.Server.Commands;

/// <summary>All that the program does, as it is asked for by words on the command line.</summary>
internal static class CommandLine
{
    /// <summary>The commands, each with its options.</summary>
    public static RootCommand Create() =>
        new("Rapid Ledger: write promotion rules and see at once how they price a cart.")
        {
            ServeCommand.Create(),
            PriceCommand.Create(),
            CheckCommand.Create(),
            ReviewCommand.Create(),
            CaseCommand.Create(),
            MeetingsCommand.Create(),
            ImportCommand.Create(),
            ExportCommand.Create(),
            BackupCommand.Create(),
            RestoreCommand.Create(),
            CheckStoreCommand.Create(),
            TakingsCommand.Create(),
            KeyCommand.Create(),
            CodeCommand.Create(),
        };
}
