using System.Text;
using UtfUnknown;

namespace RapidLedger.Formats;

/// <summary>Tells in which encoding a text is written.</summary>
internal static class TextEncoding
{
    private const int Sniffed = 1024 * 1024;

    static TextEncoding() => Encoding.RegisterProvider(CodePagesEncodingProvider.Instance);

    /// <summary>An encoding by its name.</summary>
    public static Encoding Named(string name) => Encoding.GetEncoding(name);

    /// <summary>
    /// The name of a file's encoding: what its byte order mark says; UTF-8 where it is that throughout; else what a detector takes it for,
    /// and Windows-1252 where it takes it for anything of one byte a character, which is what spreadsheets of Western Europe write.
    /// </summary>
    public static string Of(string path)
    {
        using var file = File.OpenRead(path);
        var begin = new byte[Sniffed];
        var read = file.ReadAtLeast(begin, begin.Length, throwOnEndOfStream: false);
        var bytes = begin.AsSpan(0, read);
        if (bytes.StartsWith((ReadOnlySpan<byte>)[0xFF, 0xFE]))
            return "utf-16";
        if (bytes.StartsWith((ReadOnlySpan<byte>)[0xFE, 0xFF]))
            return "utf-16BE";
        file.Position = 0;
        if (IsUtf8(file))
            return
                bytes.Contains((byte)0)
                && CharsetDetector.DetectFromBytes(bytes.ToArray()).Detected?.EncodingName is { } wide
                && wide.StartsWith("utf-16", StringComparison.Ordinal)
                ? wide
                : "utf-8";
        return
            CharsetDetector.DetectFromBytes(bytes.ToArray()).Detected?.EncodingName is { } name
            && name.StartsWith("utf-16", StringComparison.Ordinal)
            ? name
            : "windows-1252";
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
