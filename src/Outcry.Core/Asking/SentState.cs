namespace Outcry.Core.Asking;

/// <summary>What became of a mail or a text message to a lead.</summary>
public enum SentState
{
    /// <summary>No server has taken it yet.</summary>
    Waiting,

    /// <summary>A server took it; whether it was read nobody knows.</summary>
    Taken,

    /// <summary>The server said that nobody has the address or the number.</summary>
    Refused,

    /// <summary>It was taken and came back: nobody has the address.</summary>
    CameBack,

    /// <summary>It was never sent: its reader took it back or cannot be reached, or no server took it for a month.</summary>
    NotSent,
}
