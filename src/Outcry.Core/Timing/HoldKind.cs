namespace Outcry.Core.Timing;

/// <summary>Something that holds everything up while it is open.</summary>
public enum HoldKind
{
    /// <summary>The site's consent notice.</summary>
    Consent,

    /// <summary>A chat panel.</summary>
    Chat,

    /// <summary>A dialog of the page's own.</summary>
    Dialog,
}
