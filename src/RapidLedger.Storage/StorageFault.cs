using Microsoft.Data.Sqlite;

namespace RapidLedger.Storage;

/// <summary>The store cannot be opened or written; the message is one sentence that says what to do.</summary>
public sealed class StorageFault : Exception
{
    /// <summary>A fault with its sentence.</summary>
    public StorageFault(string message, bool passes = false, Exception? inner = null)
        : base(message, inner) => Passes = passes;

    /// <summary>Whether the same may succeed in a moment: somebody else is writing.</summary>
    public bool Passes { get; }

    /// <summary>What SQLite says, in a sentence; null: it is no fault of the file or the disk.</summary>
    /// <param name="error">What SQLite says (result codes: sqlite.org/rescode.html).</param>
    /// <param name="path">The file.</param>
    public static StorageFault? Of(SqliteException error, string path) =>
        error.SqliteErrorCode switch
        {
            5 or 6 => new(
                $"Another program has been writing to {path} for too long: nothing was written. Try again in a moment.",
                true,
                error
            ),
            8 => new(
                $"{path} cannot be written: the file or the disk is read-only. Nothing was changed; make it writable and try again.",
                false,
                error
            ),
            10 => new(
                $"The disk failed while {path} was read or written. Nothing was changed; look at the disk, and take a backup.",
                false,
                error
            ),
            11 => new($"{path} is damaged. Put the last backup in its place and start again.", false, error),
            13 => new($"The disk of {path} is full: nothing was written. Make room and try again.", false, error),
            14 => new(
                $"{path} cannot be opened: it is a folder, its folder is not there, or it may not be written. Choose another file with --data.",
                false,
                error
            ),
            26 => new($"{path} is not a file of Rapid Ledger. Choose another with --data.", false, error),
            _ => null,
        };
}
