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

try
{
    // Whoever is asked to end finishes what is under way first.
    return await CommandLine
        .Create()
        .Parse(args)
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
