using System.Text;
using System.Text.Unicode;

namespace Outcry.Server.Intake.Imports;

/// <summary>How the letters of a file are written, and what that is called.</summary>
internal sealed record FileEncoding(Encoding Encoding, string Name)
{
    /// <summary>Bytes looked at; a file that is sound UTF-8 for as long is taken to be.</summary>
    private const int Looked = 1 << 20;

    private static readonly FileEncoding Utf8 = new(new UTF8Encoding(false), "UTF-8");
    private static readonly FileEncoding Utf16 = new(Encoding.Unicode, "UTF-16");
    private static readonly FileEncoding Utf16Big = new(Encoding.BigEndianUnicode, "UTF-16");

    private static readonly FileEncoding Western = new(
        CodePagesEncodingProvider.Instance.GetEncoding(1252)!,
        "Windows-1252"
    );

    /// <summary>Tells it by the byte order mark; without one, by every other byte being zero, or by being no UTF-8.</summary>
    public static FileEncoding Of(string path)
    {
        using var file = File.OpenRead(path);
        var bytes = new byte[Math.Min(Looked, file.Length)];
        var read = file.ReadAtLeast(bytes, bytes.Length, throwOnEndOfStream: false);
        return Of(bytes.AsSpan(0, read), isWhole: read == file.Length);
    }

    /// <summary>The same for a piece of a file.</summary>
    /// <param name="bytes">From its beginning.</param>
    /// <param name="isWhole">Whether it is the whole file, so that a letter cut off at its end is a fault.</param>
    internal static FileEncoding Of(ReadOnlySpan<byte> bytes, bool isWhole)
    {
        if (bytes is [0xEF, 0xBB, 0xBF, ..])
            return Utf8;
        if (bytes is [0xFF, 0xFE, ..])
            return Utf16;
        if (bytes is [0xFE, 0xFF, ..])
            return Utf16Big;
        if (IsHalfZero(bytes, 1))
            return Utf16;
        if (IsHalfZero(bytes, 0))
            return Utf16Big;
        // A letter of several bytes may be cut off at the end of the piece.
        for (var cut = 0; cut <= (isWhole ? 0 : 3) && cut <= bytes.Length; cut++)
            if (Utf8Sound(bytes[..^cut]))
                return Utf8;
        return Western;
    }

    private static bool Utf8Sound(ReadOnlySpan<byte> bytes) => System.Text.Unicode.Utf8.IsValid(bytes);

    // Latin text in UTF-16 has a zero in every pair; heading lines are mostly that.
    private static bool IsHalfZero(ReadOnlySpan<byte> bytes, int which)
    {
        var head = bytes[..Math.Min(bytes.Length, 400)];
        var zeros = 0;
        for (var i = which; i < head.Length; i += 2)
            if (head[i] == 0)
                zeros++;
        return head.Length >= 8 && zeros > head.Length / 4;
    }
}
