using System.IO.Compression;
using RapidLedger.Formats;

namespace RapidLedger.Server.Archives;

/// <summary>The files of a shop where they lie: in a folder or in a zip.</summary>
internal static class ArchiveFolder
{
    /// <summary>What a shop's files may come to together, unpacked: 1,000,000 orders and 50,000 items are far less.</summary>
    private const long MostBytes = 2L << 30;

    private const int MostFiles = 100_000;

    // Times in a zip would differ from export to export; this is the first that the form knows.
    private static readonly DateTimeOffset NoTime = new(1980, 1, 1, 0, 0, 0, TimeSpan.Zero);

    /// <summary>Whether there is a whole shop: a folder, or a zip with settings in it.</summary>
    public static bool IsShop(string path)
    {
        if (Directory.Exists(path))
            return true;
        if (!File.Exists(path) || !IsZip(path))
            return false;
        try
        {
            using var zip = ZipFile.OpenRead(path);
            return RootOf(zip) is not null;
        }
        catch (InvalidDataException)
        {
            return false;
        }
    }

    /// <summary>Reads the files of a shop.</summary>
    /// <exception cref="FormatException">It is no such folder or zip; the message says why.</exception>
    public static (ShopArchive? Shop, IReadOnlyList<ArchiveProblem> Problems) Read(string path)
    {
        var budget = new Budget(MostBytes);
        if (Directory.Exists(path))
            return ArchiveReader.Read(
                Directory
                    .EnumerateFiles(path, "*", SearchOption.AllDirectories)
                    .Select(file => (Name: Path.GetRelativePath(path, file).Replace('\\', '/'), File: file))
                    .Where(file => ArchivePaths.IsOfShop(file.Name))
                    .ToDictionary(
                        file => file.Name,
                        file => (Func<Stream>)(() => new Metered(File.OpenRead(file.File), budget)),
                        StringComparer.Ordinal
                    )
            );
        try
        {
            using var zip = ZipFile.OpenRead(path);
            if (zip.Entries.Count > MostFiles)
                throw new FormatException($"{Path.GetFileName(path)} holds more than {MostFiles} files. A shop has fewer.");
            if (zip.Entries.FirstOrDefault(entry => IsOutside(entry.FullName)) is { } outside)
                throw new FormatException($"{Path.GetFileName(path)} holds a path outside it: {outside.FullName}. Nothing was read.");
            var root = RootOf(zip) ?? throw new FormatException($"{Path.GetFileName(path)} holds no {ArchivePaths.Store}: it is no shop.");
            var files = new Dictionary<string, Func<Stream>>(StringComparer.Ordinal);
            foreach (var entry in zip.Entries.Where(entry => entry.FullName.StartsWith(root, StringComparison.Ordinal)))
                if (
                    ArchivePaths.IsOfShop(entry.FullName[root.Length..])
                    && !files.TryAdd(entry.FullName[root.Length..], () => new Metered(entry.Open(), budget))
                )
                    throw new FormatException($"{Path.GetFileName(path)} holds {entry.FullName} twice.");
            return ArchiveReader.Read(files);
        }
        catch (InvalidDataException)
        {
            throw new FormatException($"{Path.GetFileName(path)} is not a zip that can be read. Make it again.");
        }
    }

    /// <summary>Reads one file of a shop whose files were read before, if it is there.</summary>
    /// <exception cref="FormatException">It is larger than any shop's.</exception>
    public static async Task ReadFile(string path, string name, Func<Stream, Task> read)
    {
        var budget = new Budget(MostBytes);
        if (Directory.Exists(path))
        {
            if (!File.Exists(Path.Combine(path, name)))
                return;
            await using var file = new Metered(File.OpenRead(Path.Combine(path, name)), budget);
            await read(file);
            return;
        }

        using var zip = ZipFile.OpenRead(path);
        if (zip.GetEntry(RootOf(zip) + name) is not { } entry)
            return;
        await using var stream = new Metered(entry.Open(), budget);
        await read(stream);
    }

    /// <summary>Writes the files of a shop into a folder, or into a zip where the path ends so.</summary>
    /// <returns>How many files there are.</returns>
    public static int Write(IEnumerable<ArchiveFile> files, string path)
    {
        if (!path.EndsWith(".zip", StringComparison.OrdinalIgnoreCase))
            return WriteFolder(files, path);
        var beside = $"{path}.partial";
        int count;
        using (var stream = File.Create(beside))
            count = WriteZip(files, stream);
        File.Move(beside, path, overwrite: true);
        return count;
    }

    /// <summary>Writes them as a zip, the same bytes for the same shop.</summary>
    public static int WriteZip(IEnumerable<ArchiveFile> files, Stream to)
    {
        var count = 0;
        using var zip = new ZipArchive(to, ZipArchiveMode.Create, leaveOpen: true);
        foreach (var file in files)
        {
            var entry = zip.CreateEntry(file.Path, CompressionLevel.Optimal);
            entry.LastWriteTime = NoTime;
            using var stream = entry.Open();
            file.Write(stream);
            count++;
        }

        return count;
    }

    // What lies beside a shop's own files stays; what is no longer of the shop goes.
    private static int WriteFolder(IEnumerable<ArchiveFile> files, string path)
    {
        var written = new HashSet<string>(StringComparer.Ordinal);
        foreach (var file in files)
        {
            var target = Path.Combine(path, file.Path);
            Directory.CreateDirectory(Path.GetDirectoryName(target)!);
            using (var stream = File.Create($"{target}.partial"))
                file.Write(stream);
            File.Move($"{target}.partial", target, overwrite: true);
            written.Add(file.Path);
        }

        foreach (var file in Directory.EnumerateFiles(path, "*", SearchOption.AllDirectories).ToArray())
            if (Path.GetRelativePath(path, file).Replace('\\', '/') is var name && ArchivePaths.IsOfShop(name) && !written.Contains(name))
                File.Delete(file);
        return written.Count;
    }

    // The folder in the zip in which the shop lies.
    private static string? RootOf(ZipArchive zip) =>
        zip
            .Entries.Select(entry => entry.FullName)
            .Where(name => name == ArchivePaths.Store || name.EndsWith($"/{ArchivePaths.Store}", StringComparison.Ordinal))
            .OrderBy(name => name.Length)
            .FirstOrDefault()
            is { } store
            ? store[..^ArchivePaths.Store.Length]
            : null;

    private static bool IsOutside(string name) =>
        name.StartsWith('/') || name.Contains('\\', StringComparison.Ordinal) || name.Split('/').Contains("..");

    private static bool IsZip(string path)
    {
        using var file = File.OpenRead(path);
        Span<byte> head = stackalloc byte[4];
        return file.ReadAtLeast(head, 4, throwOnEndOfStream: false) == 4 && head is [(byte)'P', (byte)'K', 3, 4];
    }

    private sealed class Budget(long most)
    {
        private long read;

        public void Take(int bytes)
        {
            if (Interlocked.Add(ref read, bytes) > most)
                throw new FormatException($"These files come to more than {most >> 30} GB unpacked. A shop's are far smaller.");
        }
    }

    // What is read counts, whatever was said of its size before.
    private sealed class Metered(Stream inner, Budget budget) : Stream
    {
        public override bool CanRead => true;
        public override bool CanSeek => false;
        public override bool CanWrite => false;
        public override long Length => throw new NotSupportedException();
        public override long Position
        {
            get => throw new NotSupportedException();
            set => throw new NotSupportedException();
        }

        public override int Read(byte[] buffer, int offset, int count)
        {
            var read = inner.Read(buffer, offset, count);
            budget.Take(read);
            return read;
        }

        public override void Flush() { }

        public override long Seek(long offset, SeekOrigin origin) => throw new NotSupportedException();

        public override void SetLength(long value) => throw new NotSupportedException();

        public override void Write(byte[] buffer, int offset, int count) => throw new NotSupportedException();

        protected override void Dispose(bool disposing)
        {
            if (disposing)
                inner.Dispose();
            base.Dispose(disposing);
        }
    }
}
