using NodaTime;
using Outcry.Core.Greetings;

namespace Outcry.Core.Talks;

/// <summary>How urgent it is that somebody answers.</summary>
public enum Urgency
{
    /// <summary>Nobody waits, or not for long.</summary>
    None,

    /// <summary>Long enough for those who answer here to be told.</summary>
    Group,

    /// <summary>Long enough for everybody to be told.</summary>
    Everybody,
}

/// <summary>After how much waiting who is told, in minutes of open time.</summary>
/// <param name="GroupMinutes">Those who answer here: 1 to 60.</param>
/// <param name="EverybodyMinutes">Everybody: more than that, to 240.</param>
public sealed record WaitingLimits(int GroupMinutes, int EverybodyMinutes)
{
    /// <summary>Two minutes and five.</summary>
    public static WaitingLimits Start { get; } = new(2, 5);
}

/// <summary>How long a visitor has waited, counting only the time at which somebody should have been there.</summary>
public static class Waiting
{
    private const int MostStretches = 1_000;

    /// <summary>Open time between two moments.</summary>
    /// <param name="times">The hours; null for always open.</param>
    /// <param name="from">From when; a moment that is not before <paramref name="until"/> gives none.</param>
    /// <param name="until">Until when.</param>
    public static Duration Open(OpeningTimes? times, Instant from, Instant until)
    {
        if (until <= from)
            return Duration.Zero;
        if (times is null)
            return until - from;
        var (open, at) = (Duration.Zero, from);
        for (var i = 0; i < MostStretches && at < until; i++)
        {
            if (!times.IsInside(at))
            {
                if (times.OpensAfter(at) is not { } opens || opens >= until)
                    break;
                at = opens;
            }
            var closes = times.ClosesAfter(at) is { } ends && ends < until ? ends : until;
            open += closes - at;
            at = closes;
        }
        return open;
    }

    /// <summary>How urgent it is for a visitor who waits since a moment.</summary>
    public static Urgency Of(Instant? since, Instant now, OpeningTimes? times, WaitingLimits limits)
    {
        if (since is not { } from)
            return Urgency.None;
        var waited = Open(times, from, now).TotalMinutes;
        return waited > limits.EverybodyMinutes ? Urgency.Everybody
            : waited > limits.GroupMinutes ? Urgency.Group
            : Urgency.None;
    }
}

/// <summary>A member who could be given a talk.</summary>
/// <param name="Id">Who.</param>
/// <param name="OpenTalks">Talks they have open.</param>
/// <param name="LastGivenAt">When they were given one last; null for never.</param>
public sealed record AnsweringMember(Guid Id, int OpenTalks, Instant? LastGivenAt);

/// <summary>Whose turn it is.</summary>
public static class RoundRobin
{
    /// <summary>Talks that one member has open at most before no more are given to them.</summary>
    public const int MostOpenTalks = 4;

    /// <summary>Of those below the limit, whoever was given one longest ago; null where there is nobody.</summary>
    public static Guid? Next(IEnumerable<AnsweringMember> present, int mostOpen = MostOpenTalks) =>
        present
            .Where(m => m.OpenTalks < mostOpen)
            .OrderBy(m => m.LastGivenAt ?? Instant.MinValue)
            .ThenBy(m => m.Id)
            .Select(m => (Guid?)m.Id)
            .FirstOrDefault();
}
