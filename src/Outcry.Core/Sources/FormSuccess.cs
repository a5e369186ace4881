namespace Outcry.Core.Sources;

/// <summary>How one knows that a form went through.</summary>
public enum SuccessSign
{
    /// <summary>The browser found it valid and sent it; whether the site took it is not known.</summary>
    Sent,

    /// <summary>The visitor reached a page afterwards, within ten minutes.</summary>
    Page,

    /// <summary>An element came into view afterwards, within a minute.</summary>
    Element,
}

/// <summary>The sign by which a form's submission counts.</summary>
/// <param name="Sign">Which sort of sign.</param>
/// <param name="Target">Page pattern or CSS selector; empty for <see cref="SuccessSign.Sent"/>.</param>
public sealed record FormSuccess(SuccessSign Sign, string Target)
{
    /// <summary>Counts when sent.</summary>
    public static FormSuccess WhenSent { get; } = new(SuccessSign.Sent, "");
}
