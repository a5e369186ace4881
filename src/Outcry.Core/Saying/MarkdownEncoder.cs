using System.Text.Encodings.Web;

namespace Outcry.Core.Saying;

/// <summary>
/// Writes a value so that Markdown reads it as plain text: every ASCII punctuation mark gets a backslash
/// (CommonMark 0.31 §2.4), and spaces and line breaks become a stand-in, so that what tidies the sentence around a value
/// leaves the value itself alone.
/// </summary>
/// <remarks>It stands where a template engine would put its HTML encoder, so filters work on the raw value.</remarks>
internal sealed unsafe class MarkdownEncoder : TextEncoder
{
    /// <summary>Stands for a space inside a value until the sentence is read; a noncharacter, which no text may hold (Unicode, 23.7).</summary>
    public const char ValueSpace = '\uFDD0';

    public static MarkdownEncoder Instance { get; } = new();

    public override int MaxOutputCharactersPerInputCharacter => 2;

    public override int FindFirstCharacterToEncode(char* text, int textLength)
    {
        for (var i = 0; i < textLength; i++)
            if (WillEncode(text[i]))
                return i;
        return -1;
    }

    public override bool TryEncodeUnicodeScalar(
        int unicodeScalar,
        char* buffer,
        int bufferLength,
        out int numberOfCharactersWritten
    )
    {
        var isSpace = IsSpace(unicodeScalar);
        var needed = isSpace ? 1 : 2;
        numberOfCharactersWritten = 0;
        if (bufferLength < needed)
            return false;
        if (isSpace)
        {
            buffer[0] = ValueSpace;
        }
        else
        {
            buffer[0] = '\\';
            buffer[1] = (char)unicodeScalar;
        }
        numberOfCharactersWritten = needed;
        return true;
    }

    public override bool WillEncode(int unicodeScalar) =>
        IsSpace(unicodeScalar)
        || unicodeScalar is (>= '!' and <= '/') or (>= ':' and <= '@') or (>= '[' and <= '`') or (>= '{' and <= '~');

    private static bool IsSpace(int unicodeScalar) => unicodeScalar is ' ' or '\t' or '\n' or '\r';
}
