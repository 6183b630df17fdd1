using System.Text;

namespace RapidLedger.Formats;

/// <summary>Tells in which encoding a text is written.</summary>
internal static class TextEncoding
{
    private const int Sniffed = 64 * 1024;

    /// <summary>Makes known the encodings of before Unicode, which .NET knows only then.</summary>
    public static void Register() => Encoding.RegisterProvider(CodePagesEncodingProvider.Instance);

    /// <summary>An encoding by its name.</summary>
    public static Encoding Named(string name)
    {
        Register();
        return Encoding.GetEncoding(name);
    }

    /// <summary>
    /// The name of a file's encoding: what its byte order mark says; UTF-16 where every other byte is nothing, as most letters of a list
    /// are of the first 256; UTF-8 where it is that throughout; else Windows-1252, which is what spreadsheets of Western Europe write.
    /// </summary>
    public static string Of(string path)
    {
        using var file = File.OpenRead(path);
        var begin = new byte[Sniffed];
        var bytes = begin.AsSpan(0, file.ReadAtLeast(begin, begin.Length, throwOnEndOfStream: false));
        if (bytes.StartsWith((ReadOnlySpan<byte>)[0xFF, 0xFE]))
            return "utf-16";
        if (bytes.StartsWith((ReadOnlySpan<byte>)[0xFE, 0xFF]))
            return "utf-16BE";
        var (even, odd) = (0, 0);
        for (var place = 0; place < bytes.Length; place++)
            if (bytes[place] == 0 && place % 2 == 0)
                even++;
            else if (bytes[place] == 0)
                odd++;
        if (Math.Max(even, odd) > bytes.Length / 4 && Math.Min(even, odd) < bytes.Length / 64)
            return odd > even ? "utf-16" : "utf-16BE";
        file.Position = 0;
        return IsUtf8(file) ? "utf-8" : "windows-1252";
    }

    private static bool IsUtf8(Stream stream)
    {
        var decoder = new UTF8Encoding(false, throwOnInvalidBytes: true).GetDecoder();
        var (buffer, chars) = (new byte[64 * 1024], new char[64 * 1024 + 4]);
        try
        {
            for (int read; (read = stream.Read(buffer)) > 0; )
                decoder.GetChars(buffer.AsSpan(0, read), chars, flush: false);
            decoder.GetChars([], chars, flush: true);
            return true;
        }
        catch (DecoderFallbackException)
        {
            return false;
        }
    }
}
