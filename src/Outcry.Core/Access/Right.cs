namespace Outcry.Core.Access;

/// <summary>What may be done in a workspace. Each act of the desk asks for one of them.</summary>
public enum Right
{
    /// <summary>Be in the workspace: its sites, the on-air strip, its colleagues, masked events.</summary>
    Enter,

    /// <summary>See callouts, launchers, results, the run sheet.</summary>
    See,

    /// <summary>Draft, rehearse, keep segments, page groups and pictures.</summary>
    Draft,

    /// <summary>Publish, pause, take off air, change house rules and events, approve.</summary>
    Publish,

    /// <summary>Answer in the inbox, see leads, whole names and addresses.</summary>
    Answer,

    /// <summary>Connect sources with their secrets, sites, webhooks.</summary>
    Connect,

    /// <summary>Members, keys, erasing, exporting everything, limits.</summary>
    Govern,
}
