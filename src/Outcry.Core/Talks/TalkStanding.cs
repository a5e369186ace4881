using NodaTime;

namespace Outcry.Core.Talks;

/// <summary>How a talk stands.</summary>
public enum TalkState
{
    /// <summary>Nobody of the team has it.</summary>
    Unclaimed,

    /// <summary>One member answers it.</summary>
    Claimed,

    /// <summary>Put off until a moment, by whoever has it.</summary>
    Snoozed,

    /// <summary>Ended, with a reason.</summary>
    Closed,
}

/// <summary>What an act upon a talk came to.</summary>
public enum TalkVerdict
{
    /// <summary>It is done.</summary>
    Done,

    /// <summary>Another member has the talk.</summary>
    HeldByAnother,

    /// <summary>It is closed: it wants to be reopened first.</summary>
    IsClosed,

    /// <summary>A visitor's word came too late to reopen it: a new talk begins, which links back.</summary>
    BeginsAnew,

    /// <summary>The moment to wake it is not ahead, or too far.</summary>
    WrongMoment,
}

/// <summary>A talk's state with all that its transitions need; every act gives a new one.</summary>
/// <param name="State">How it stands.</param>
/// <param name="MemberId">Who has it, or had it last; null for nobody so far.</param>
/// <param name="SnoozedUntil">When it wakes.</param>
/// <param name="ClosedAt">When it was closed.</param>
/// <param name="Reason">Why it was closed; empty for none.</param>
/// <param name="WaitingSince">Since when the visitor waits for a person; null when they do not.</param>
public sealed record TalkStanding(
    TalkState State,
    Guid? MemberId,
    Instant? SnoozedUntil,
    Instant? ClosedAt,
    string Reason,
    Instant? WaitingSince
)
{
    /// <summary>So long after its end a visitor's word reopens a talk.</summary>
    public static Duration Reopens { get; } = Duration.FromDays(7);

    /// <summary>The furthest that a talk is put off.</summary>
    public static Duration LongestSnooze { get; } = Duration.FromDays(90);

    /// <summary>As a talk begins: nobody has it, and its visitor waits for nobody yet.</summary>
    public static TalkStanding Begun { get; } = new(TalkState.Unclaimed, null, null, null, "", null);

    /// <summary>Whether it is open: neither closed nor put off.</summary>
    public bool IsOpen => State is TalkState.Unclaimed or TalkState.Claimed;

    /// <summary>The visitor said something.</summary>
    /// <param name="now">When.</param>
    /// <param name="isHolderThere">Whether the member who had it last is at a desk.</param>
    public (TalkVerdict Verdict, TalkStanding Standing) VisitorSaid(Instant now, bool isHolderThere)
    {
        if (State == TalkState.Closed && now - ClosedAt!.Value >= Reopens)
            return (TalkVerdict.BeginsAnew, this);
        var isClaimed = State switch
        {
            TalkState.Claimed => true,
            TalkState.Unclaimed => false,
            // Whoever put it off, or closed it, has it again; a closed one only if they are there to answer.
            TalkState.Snoozed => MemberId is not null,
            _ => MemberId is not null && isHolderThere,
        };
        return (
            TalkVerdict.Done,
            new TalkStanding(
                isClaimed ? TalkState.Claimed : TalkState.Unclaimed,
                MemberId,
                null,
                null,
                "",
                WaitingSince ?? now
            )
        );
    }

    /// <summary>A member answers: an unclaimed talk becomes theirs; one of somebody else's stays theirs.</summary>
    public (TalkVerdict Verdict, TalkStanding Standing) MemberSaid(Guid member) =>
        State is TalkState.Claimed or TalkState.Snoozed && MemberId is { } holder && holder != member
            ? (TalkVerdict.HeldByAnother, this)
            : (TalkVerdict.Done, new TalkStanding(TalkState.Claimed, member, null, null, "", null));

    /// <summary>It is given to a member, or back to nobody. A visitor who waits goes on waiting.</summary>
    public (TalkVerdict Verdict, TalkStanding Standing) Assign(Guid? member) =>
        State == TalkState.Closed
            ? (TalkVerdict.IsClosed, this)
            : (
                TalkVerdict.Done,
                this with
                {
                    State = member is null ? TalkState.Unclaimed : TalkState.Claimed,
                    MemberId = member,
                    SnoozedUntil = null,
                }
            );

    /// <summary>A member puts it off; an unclaimed one becomes theirs. Nobody waits for a person meanwhile.</summary>
    public (TalkVerdict Verdict, TalkStanding Standing) Snooze(Guid member, Instant until, Instant now)
    {
        if (State == TalkState.Closed)
            return (TalkVerdict.IsClosed, this);
        if (State != TalkState.Unclaimed && MemberId != member)
            return (TalkVerdict.HeldByAnother, this);
        return until <= now || until - now > LongestSnooze
            ? (TalkVerdict.WrongMoment, this)
            : (TalkVerdict.Done, new TalkStanding(TalkState.Snoozed, member, until, null, "", null));
    }

    /// <summary>Wakes it, where its moment has come.</summary>
    public TalkStanding Wake(Instant now) =>
        State == TalkState.Snoozed && SnoozedUntil <= now
            ? this with
            {
                State = MemberId is null ? TalkState.Unclaimed : TalkState.Claimed,
                SnoozedUntil = null,
            }
            : this;

    /// <summary>It is ended. Closed once more, it stays as it was closed first.</summary>
    public TalkStanding Close(string reason, Instant now) =>
        State == TalkState.Closed ? this : new TalkStanding(TalkState.Closed, MemberId, null, now, reason, null);

    /// <summary>A member opens it again, and has it then.</summary>
    public TalkStanding Reopen(Guid member) =>
        State == TalkState.Closed ? new TalkStanding(TalkState.Claimed, member, null, null, "", null) : this;
}
