using System.Runtime.CompilerServices;

namespace RapidLedger.Tests;

/// <summary>
/// One folder for whatever a test program and the programs it starts write for the moment (shops, browsers' profiles, archives); it goes
/// when the tests end, so that a machine on which they often run does not fill up.
/// </summary>
internal static class ScratchFolder
{
    [ModuleInitializer]
    internal static void Make()
    {
        var folder = Directory.CreateTempSubdirectory("rapid-ledger-tests-").FullName;
        Environment.SetEnvironmentVariable("TMPDIR", folder);
        AppDomain.CurrentDomain.ProcessExit += (_, _) =>
        {
            try
            {
                Directory.Delete(folder, recursive: true);
            }
            catch (IOException)
            {
                // A program that was ended a moment ago still writes there.
            }
        };
    }
}
