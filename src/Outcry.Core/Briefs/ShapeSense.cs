namespace Outcry.Core.Briefs;

/// <summary>Which kinds make sense in which shapes.</summary>
public static class ShapeSense
{
    /// <summary>
    /// Whether a kind is worth a shape's interruption: what covers the page is for a notice, or (as a poster) for words
    /// that somebody is to read in peace; a single line that turns over wants several things to tell.
    /// </summary>
    public static bool Fits(CalloutKind kind, Shape shape) =>
        shape switch
        {
            Shape.Curtain => kind is CalloutKind.Notice or CalloutKind.Prompt,
            Shape.Poster => kind
                is CalloutKind.Notice
                    or CalloutKind.Prompt
                    or CalloutKind.Quote
                    or CalloutKind.Standing,
            Shape.Crawl => kind is not CalloutKind.Prompt and not CalloutKind.Headcount and not CalloutKind.Remainder,
            _ => true,
        };
}
