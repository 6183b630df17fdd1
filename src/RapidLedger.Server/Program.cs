using System.CommandLine;
using RapidLedger.Server.Commands;
using RapidLedger.Server.Web;
using RapidLedger.Storage;

if (!LanguageData.IsThere)
{
    Console.Error.WriteLine(
        "The language data of this machine (ICU) is missing or switched off, and without it codes and dates would come out otherwise: install libicu, and leave DOTNET_SYSTEM_GLOBALIZATION_INVARIANT unset."
    );
    return 1;
}

// Whoever is asked to end finishes what is under way first.
var root = new RootCommand("Rapid Ledger: write promotion rules and see at once how they price a cart.")
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
try
{
    return await root.Parse(args)
        .InvokeAsync(
            new InvocationConfiguration
            {
                EnableDefaultExceptionHandler = false,
                ProcessTerminationTimeout = Site.Ending + TimeSpan.FromSeconds(5),
            }
        );
}
catch (StorageFault fault)
{
    Console.Error.WriteLine(fault.Message);
    return 1;
}
