using NodaTime;

namespace Outcry.Core.Installing;

/// <summary>How the snippet stands with its site.</summary>
public enum HearingState
{
    /// <summary>Nothing has been seen of it yet.</summary>
    Waiting,

    /// <summary>It speaks.</summary>
    Heard,

    /// <summary>It spoke, and has not for a day.</summary>
    Stale,

    /// <summary>It speaks from a host that is not allowed.</summary>
    WrongHost,

    /// <summary>Browsers fetch the script, and it does not get to speak.</summary>
    Blocked,
}

/// <summary>What is known of the snippet.</summary>
/// <param name="HeardAt">When it last spoke from an allowed host.</param>
/// <param name="FetchedAt">When a browser last fetched the script.</param>
/// <param name="RefusedAt">When it last spoke from a host that is not allowed.</param>
public sealed record Traces(Instant? HeardAt, Instant? FetchedAt, Instant? RefusedAt);

/// <summary>Judges from the traces how the snippet stands.</summary>
public static class Hearing
{
    /// <summary>Without a word for this long something may have taken the line off the site again.</summary>
    public static Duration StaleAfter { get; } = Duration.FromHours(24);

    /// <summary>A script that was fetched speaks within a second or two; after this long something keeps it from speaking.</summary>
    public static Duration SpeaksWithin { get; } = Duration.FromSeconds(15);

    /// <summary>What was fetched or refused longer ago than this says nothing about now.</summary>
    public static Duration TracesCount { get; } = Duration.FromMinutes(30);

    /// <summary>The state now.</summary>
    public static HearingState Judge(Traces traces, Instant now)
    {
        var heard = traces.HeardAt;
        if (heard is { } at && now - at < StaleAfter)
            return IsFresh(traces.RefusedAt, now) && traces.RefusedAt > at + SpeaksWithin
                ? HearingState.WrongHost
                : HearingState.Heard;
        if (IsFresh(traces.RefusedAt, now))
            return HearingState.WrongHost;
        // Fetched, time enough to speak, and no word: not from here, and not from a wrong host either.
        if (IsFresh(traces.FetchedAt, now) && now - traces.FetchedAt >= SpeaksWithin)
            return HearingState.Blocked;
        return heard is null ? HearingState.Waiting : HearingState.Stale;
    }

    private static bool IsFresh(Instant? trace, Instant now) => trace is { } at && now - at < TracesCount;
}
