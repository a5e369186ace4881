namespace Outcry.Core.Access;

/// <summary>What a machine's token is good for; a token has one or more of them.</summary>
public enum TokenScope
{
    /// <summary>Read what a viewer may see.</summary>
    Read,

    /// <summary>Put events into the ledger.</summary>
    Events,

    /// <summary>Read leads with their whole names and addresses.</summary>
    Leads,
}
