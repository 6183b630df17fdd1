using System.CommandLine;

namespace RapidLedger.Server.Commands;

/// <summary><c>backup</c>: one consistent file of a store, also while it is served.</summary>
internal static class BackupCommand
{
    public static Command Create()
    {
        var data = DataOption.Create();
        var file = new Argument<string>("FILE") { Description = "Where the backup is written; an older backup there is replaced." };
        var command = new Command(
            "backup",
            "Writes one consistent file of a store, also while it is being served. Copying the file itself would leave out what its log still holds."
        )
        {
            data,
            file,
        };
        command.SetAction(parsed =>
        {
            using var database = DataOption.OpenExisting(parsed.GetRequiredValue(data));
            database.Backup(parsed.GetRequiredValue(file));
            Console.WriteLine($"{new FileInfo(parsed.GetRequiredValue(file)).Length} bytes written to {parsed.GetRequiredValue(file)}");
            return 0;
        });
        return command;
    }
}
