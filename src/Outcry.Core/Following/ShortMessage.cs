namespace Outcry.Core.Following;

/// <summary>In how many parts a text message goes: what it costs follows from that.</summary>
/// <remarks>3GPP TS 23.038 for the letters (the default alphabet with its extension, else UCS-2) and TS 23.040 for the parts.</remarks>
public static class ShortMessage
{
    // Seven bits each; whatever else is in a message makes all of it sixteen bits a letter.
    private const string Default =
        "@£$¥èéùìòÇ\nØø\rÅåΔ_ΦΓΛΩΠΨΣΘΞÆæßÉ !\"#¤%&'()*+,-./0123456789:;<=>?¡ABCDEFGHIJKLMNOPQRSTUVWXYZÄÖÑÜ§¿abcdefghijklmnopqrstuvwxyzäöñüà";
    private const string Extension = "\f^{}\\[~]|€";
    private const int OneOfSeven = 160;
    private const int EachOfSeven = 153;
    private const int OneOfSixteen = 70;
    private const int EachOfSixteen = 67;

    /// <summary>Parts of a text: 0 for an empty one.</summary>
    public static int Parts(string text)
    {
        var septets = 0;
        foreach (var letter in text)
            if (Default.Contains(letter, StringComparison.Ordinal))
                septets++;
            else if (Extension.Contains(letter, StringComparison.Ordinal))
                septets += 2;
            else
                return Parts(text.Length, OneOfSixteen, EachOfSixteen);
        return Parts(septets, OneOfSeven, EachOfSeven);
    }

    private static int Parts(int length, int one, int each) =>
        length <= one ? Math.Min(length, 1) : (length + each - 1) / each;
}
