using NodaTime;
using Outcry.Core.Asking;
using Outcry.Core.Timing;

namespace Outcry.Core.Following;

/// <summary>Why a follow-up is over for somebody.</summary>
public enum FollowEnd
{
    /// <summary>They came to its last step.</summary>
    Through,

    /// <summary>They took back what they agreed to.</summary>
    Withdrew,

    /// <summary>Mails to them come back.</summary>
    Unreachable,

    /// <summary>They did what it was to lead to.</summary>
    Goal,

    /// <summary>They wrote in a talk: a person answers them.</summary>
    Talked,
}

/// <summary>What is so of somebody as their next step is due.</summary>
/// <param name="State">How they stand.</param>
/// <param name="HasEmail">Whether there is an address to write to.</param>
/// <param name="HasPhone">Whether there is a number to send a text message to.</param>
/// <param name="ReachedGoal">Whether the goal's event was theirs since they came in.</param>
/// <param name="Talked">Whether they wrote in a talk since they came in.</param>
/// <param name="LastMailAt">The last mail or text message of any follow-up to them; null for none.</param>
public sealed record FollowMoment(
    LeadState State,
    bool HasEmail,
    bool HasPhone,
    bool ReachedGoal,
    bool Talked,
    Instant? LastMailAt
)
{
    /// <summary>Whether what a step writes can come to them.</summary>
    public bool CanHave(FollowStep step) => step.Kind == FollowKind.Text ? HasPhone : HasEmail;
}

/// <summary>What is done next.</summary>
/// <param name="At">At which step they are then, by its place; as many as there are steps once it is over.</param>
/// <param name="Since">Since when they are there.</param>
/// <param name="DueAt">When it goes on; null once it is over.</param>
/// <param name="End">Why it is over; null while it is not.</param>
/// <param name="Does">Steps that are taken now, in order.</param>
public sealed record FollowTurn(int At, Instant Since, Instant? DueAt, FollowEnd? End, IReadOnlyList<FollowStep> Does);

/// <summary>Takes somebody through a follow-up, a stretch at a time. Pure: the same in gives the same out.</summary>
public static class FollowWalk
{
    /// <summary>From all follow-ups together nobody is written to twice within less than this, by mail or by text message.</summary>
    public static Duration MailsApart { get; } = Duration.FromHours(24);

    /// <summary>By whose clock hours are meant: the reader's own, else the site's.</summary>
    /// <param name="reader">IANA time zone as their browser named it; empty, or one that is not known here, for none.</param>
    /// <param name="site">The site's.</param>
    public static DateTimeZone ZoneOf(string reader, DateTimeZone site) =>
        (reader.Length > 0 ? DateTimeZoneProviders.Tzdb.GetZoneOrNull(reader) : null) ?? site;

    /// <summary>Goes on from where they are.</summary>
    /// <param name="follow">The revision that they came into.</param>
    /// <param name="at">At which step they are, by its place.</param>
    /// <param name="since">Since when.</param>
    /// <param name="moment">What is so of them.</param>
    /// <param name="now">When.</param>
    /// <param name="zone">The time zone by whose clock the hours are meant: theirs where it is known, else the site's.</param>
    public static FollowTurn Go(
        FollowUp follow,
        int at,
        Instant since,
        FollowMoment moment,
        Instant now,
        DateTimeZone zone
    )
    {
        var does = new List<FollowStep>();
        if (EndOf(follow, moment) is { } end)
            return new FollowTurn(at, since, null, end, does);
        var mailedAt = moment.LastMailAt;
        for (; at < follow.Steps.Count; at++, since = now)
        {
            var step = follow.Steps[at];
            var due = step.Kind switch
            {
                FollowKind.Wait => since + Duration.FromMinutes(step.Minutes),
                FollowKind.Mail or FollowKind.Text when moment.CanHave(step) => InHours(
                    follow.Hours,
                    mailedAt is { } last ? Instant.Max(now, last + MailsApart) : now,
                    zone
                ),
                _ => now,
            };
            if (due > now)
                return new FollowTurn(at, since, due, null, does);
            // Without an address there is nothing to write to; the rest holds all the same.
            if (step.Kind == FollowKind.Wait || (step.Writes && !moment.CanHave(step)))
                continue;
            does.Add(step);
            if (step.Writes)
                mailedAt = now;
        }
        return new FollowTurn(at, since, null, FollowEnd.Through, does);
    }

    /// <summary>What somebody who comes in at a moment, and only reads, gets when.</summary>
    public static IReadOnlyList<(Instant At, FollowStep Step)> Calendar(
        FollowUp follow,
        Instant comesAt,
        DateTimeZone zone
    )
    {
        var all = new List<(Instant At, FollowStep Step)>();
        var (at, since, now, mailedAt) = (0, comesAt, comesAt, (Instant?)null);
        // Each stretch waits at a later step, or at the same mail once for its hours and once for the day before.
        for (var i = 0; i <= 3 * follow.Steps.Count; i++)
        {
            var moment = new FollowMoment(LeadState.Confirmed, true, true, false, false, mailedAt);
            var turn = Go(follow, at, since, moment, now, zone);
            foreach (var step in turn.Does)
                all.Add((now, step));
            if (turn.Does.Any(s => s.Writes))
                mailedAt = now;
            if (turn.DueAt is not { } due)
                break;
            (at, since, now) = (turn.At, turn.Since, due);
        }
        return all;
    }

    private static FollowEnd? EndOf(FollowUp follow, FollowMoment moment) =>
        moment.State == LeadState.Withdrawn ? FollowEnd.Withdrew
        : moment.State == LeadState.Unreachable ? FollowEnd.Unreachable
        : moment.ReachedGoal ? FollowEnd.Goal
        : moment.Talked && follow.EndsWithTalk ? FollowEnd.Talked
        // Whoever may be written to waits again only after taking it back: what they say yes to anew begins anew.
        : moment.State == LeadState.Waiting ? FollowEnd.Withdrew
        : null;

    private static Instant InHours(IReadOnlyList<HoursSpan> hours, Instant at, DateTimeZone zone) =>
        WeeklyHours.IsRunning(hours, at, zone) ? at : WeeklyHours.NextStart(hours, at, zone) ?? at;
}
