using System.Globalization;
using Microsoft.Data.Sqlite;
using NodaTime;
using RapidLedger.Storage;

namespace RapidLedger.Server.Opening;

/// <summary>Where the demo shop is left.</summary>
/// <param name="Kept">The file in which it is kept.</param>
internal sealed record DemoLeft(string Kept);

/// <summary>
/// Leaves the demo shop for one of the merchant's own: the server ends, its file is put aside, and it opens again over a new one, on the
/// same
/// address.
/// </summary>
internal sealed class DemoLeaving(Database database, IHostApplicationLifetime lifetime, IClock clock)
{
    // The journal and what is shared of it go along (sqlite.org/wal.html).
    private static readonly string[] Parts = ["", "-wal", "-shm"];

    /// <summary>Where the demo is to be kept; null: nobody leaves it.</summary>
    public string? Kept { get; private set; }

    /// <summary>Begins to leave: the server ends once this is answered.</summary>
    /// <param name="answer">The answer.</param>
    public DemoLeft Begin(HttpResponse answer)
    {
        Kept ??= $"{database.Path}.demo-{clock.GetCurrentInstant().ToString("uuuuMMdd'T'HHmmss'Z'", CultureInfo.InvariantCulture)}";
        answer.OnCompleted(() =>
        {
            lifetime.StopApplication();
            return Task.CompletedTask;
        });
        return new(Kept);
    }

    /// <summary>Puts the file aside; nobody serves it any more.</summary>
    /// <param name="file">The file of the store.</param>
    /// <param name="kept">Where it goes.</param>
    /// <returns>Whether it is: not if another server serves it.</returns>
    public static bool PutAside(string file, string kept)
    {
        using var mark = ServedMark.Take(file);
        if (mark is null)
            return false;
        SqliteConnection.ClearAllPools();
        foreach (var part in Parts)
            if (File.Exists(file + part))
                File.Move(file + part, kept + part);
        return true;
    }
}
