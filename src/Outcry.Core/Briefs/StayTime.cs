namespace Outcry.Core.Briefs;

/// <summary>How long a text stays on screen.</summary>
public static class StayTime
{
    private const int FreeCharacters = 80;
    private const int CharactersPerSecond = 40;

    /// <summary>The stay in milliseconds: the brief's seconds, and one more for each 40 characters over 80.</summary>
    /// <param name="seconds">The brief's seconds.</param>
    /// <param name="characters">How many characters are read.</param>
    public static long Of(int seconds, int characters) =>
        (seconds + Math.Max(0, characters - FreeCharacters) / CharactersPerSecond) * 1000L;
}
