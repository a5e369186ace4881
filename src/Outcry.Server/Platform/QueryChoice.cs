namespace Outcry.Server.Platform;

/// <summary>Reads a choice from an address, spelt as the JSON spells it.</summary>
internal static class QueryChoice
{
    /// <summary>The choice; null when none was made. Anything that is no choice makes this false.</summary>
    public static bool TryRead<T>(string? text, out T? choice)
        where T : struct, Enum
    {
        choice = null;
        if (string.IsNullOrEmpty(text))
            return true;
        // A number would parse too, but is not how choices are spelt.
        if (!char.IsLetter(text[0]) || !Enum.TryParse<T>(text, ignoreCase: true, out var read))
            return false;
        choice = read;
        return true;
    }
}
