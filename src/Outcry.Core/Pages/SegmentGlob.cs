namespace Outcry.Core.Pages;

/// <summary>Compares one path segment with a pattern segment in which "*" is any run of characters, none included.</summary>
internal static class SegmentGlob
{
    /// <summary>Whether the segment fits. A lone "*" needs at least one character, which every segment has.</summary>
    /// <remarks>Linear in practice: on a mismatch only the last "*" is tried again one character further.</remarks>
    public static bool Matches(ReadOnlySpan<char> pattern, ReadOnlySpan<char> segment)
    {
        int p = 0,
            s = 0,
            star = -1,
            retry = 0;
        while (s < segment.Length)
        {
            if (p < pattern.Length && pattern[p] == '*')
            {
                star = p++;
                retry = s;
            }
            else if (p < pattern.Length && pattern[p] == segment[s])
            {
                p++;
                s++;
            }
            else if (star >= 0)
            {
                p = star + 1;
                s = ++retry;
            }
            else
            {
                return false;
            }
        }
        while (p < pattern.Length && pattern[p] == '*')
            p++;
        return p == pattern.Length;
    }
}
