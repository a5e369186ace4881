namespace Outcry.Server.Platform;

/// <summary>Makes text that people type into patterns for LIKE, in which it means itself.</summary>
internal static class LikePattern
{
    /// <summary>The escape character, to be named beside the pattern.</summary>
    public const string Escape = "\\";

    /// <summary>A pattern that only the text itself fits, whatever signs it has.</summary>
    public static string Literal(string text) =>
        text.Replace("\\", "\\\\", StringComparison.Ordinal)
            .Replace("%", "\\%", StringComparison.Ordinal)
            .Replace("_", "\\_", StringComparison.Ordinal);
}
