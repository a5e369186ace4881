namespace Outcry.Core.Access;

/// <summary>A member's part in a workspace. What each may do stands in <see cref="AccessTable"/>; there is no order among them.</summary>
public enum Role
{
    /// <summary>May look.</summary>
    Viewer,

    /// <summary>May draft.</summary>
    Editor,

    /// <summary>May put things live.</summary>
    Publisher,

    /// <summary>May do everything.</summary>
    Owner,

    /// <summary>May answer visitors.</summary>
    Responder,
}
