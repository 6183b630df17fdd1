namespace RapidLedger.Storage;

/// <summary>
/// Says that a store is being served: a file beside it, locked as long as the program runs (flock(2), which the system drops with the
/// process). Several may serve one store; nobody may put another in its place meanwhile.
/// </summary>
public static class ServedMark
{
    /// <summary>Holds the mark until it is disposed of.</summary>
    /// <param name="store">The file of the store.</param>
    /// <exception cref="StorageFault">Another is being put in its place just now.</exception>
    public static IDisposable Hold(string store)
    {
        try
        {
            Directory.CreateDirectory(Path.GetDirectoryName(Path.GetFullPath(store))!);
            return Open(store, FileAccess.Read, FileShare.Read)
                ?? throw new StorageFault($"{store} is being restored just now. Start again in a moment.");
        }
        catch (Exception error) when (error is IOException or UnauthorizedAccessException)
        {
            // Where no file can be made the store cannot be served either: whoever opens it says so.
            return Stream.Null;
        }
    }

    /// <summary>Holds the store for somebody who puts another in its place; null: it is being served.</summary>
    public static IDisposable? Take(string store) => Open(store, FileAccess.ReadWrite, FileShare.None);

    private static FileStream? Open(string store, FileAccess access, FileShare share)
    {
        var mark = $"{Path.GetFullPath(store)}.served";
        try
        {
            return new(mark, FileMode.OpenOrCreate, access, share);
        }
        catch (IOException) when (File.Exists(mark))
        {
            return null;
        }
    }
}
