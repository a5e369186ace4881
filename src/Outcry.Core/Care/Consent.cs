namespace Outcry.Core.Care;

/// <summary>When the snippet may store anything in a visitor's browser.</summary>
public enum ConsentMode
{
    /// <summary>From the first page view.</summary>
    AtOnce,

    /// <summary>Only after the page says that the visitor agreed; until then everything is forgotten with the page.</summary>
    AfterConsent,
}

/// <summary>What may be kept of a visitor, given the site's mode and the browser's own signal.</summary>
public static class Consent
{
    /// <summary>
    /// Whether anything may be stored in the browser. Global Privacy Control, a browser's standing request not to have
    /// data sold or shared, is taken as a no in either mode.
    /// </summary>
    public static bool MayStore(ConsentMode mode, bool agreed, bool privacyControl) =>
        !privacyControl && (mode == ConsentMode.AtOnce || agreed);

    /// <summary>Whether an event of this visitor may name the person and the place: not where the browser asks not to share.</summary>
    public static bool MayName(bool privacyControl) => !privacyControl;
}
