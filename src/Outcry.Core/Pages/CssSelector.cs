using AngleSharp.Css.Parser;

namespace Outcry.Core.Pages;

/// <summary>Tells whether a text is a selector that a browser can read (Selectors Level 4).</summary>
public static class CssSelector
{
    private static readonly CssSelectorParser Parser = new();

    /// <summary>Whether a browser would look for it; an empty text is none.</summary>
    public static bool IsReadable(string text)
    {
        if (string.IsNullOrWhiteSpace(text))
            return false;
        try
        {
            return Parser.ParseSelector(text) is not null;
        }
        catch (AngleSharp.Dom.DomException)
        {
            return false;
        }
    }
}
