using System.Text.Encodings.Web;

namespace Outcry.Core.Saying;

/// <summary>
/// Writes a value so that Markdown reads it as plain text: every ASCII punctuation mark gets a backslash
/// (CommonMark 0.31 §2.4), and line breaks become spaces.
/// </summary>
/// <remarks>It stands where a template engine would put its HTML encoder, so filters work on the raw value.</remarks>
internal sealed unsafe class MarkdownEncoder : TextEncoder
{
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
        var isBreak = unicodeScalar is '\n' or '\r';
        var needed = isBreak ? 1 : 2;
        numberOfCharactersWritten = 0;
        if (bufferLength < needed)
            return false;
        if (isBreak)
        {
            buffer[0] = ' ';
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
        unicodeScalar
            is '\n'
                or '\r'
                or (>= '!' and <= '/')
                or (>= ':' and <= '@')
                or (>= '[' and <= '`')
                or (>= '{' and <= '~');
}
