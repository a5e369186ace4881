using NodaTime;

namespace Outcry.Core.Asking;

/// <summary>How a lead stands.</summary>
public enum LeadState
{
    /// <summary>Has said yes and not confirmed it.</summary>
    Waiting,

    /// <summary>May be written to.</summary>
    Confirmed,

    /// <summary>Has taken it back.</summary>
    Withdrawn,

    /// <summary>Mails come back for good.</summary>
    Unreachable,
}

/// <summary>A lead's state with the moments of its changes; every act gives a new one.</summary>
/// <param name="State">How it stands.</param>
/// <param name="Promises">Promises that they agreed to and did not take back.</param>
/// <param name="Withdrawn">Promises that were taken back: by them they are never written to or asked again.</param>
/// <param name="ConfirmedAt">When they confirmed first.</param>
/// <param name="WithdrawnAt">When they took it back last.</param>
/// <param name="UnreachableAt">When mails began to come back.</param>
public sealed record LeadLife(
    LeadState State,
    IReadOnlyList<Guid> Promises,
    IReadOnlyList<Guid> Withdrawn,
    Instant? ConfirmedAt,
    Instant? WithdrawnAt,
    Instant? UnreachableAt
)
{
    /// <summary>Links of mails that ask to confirm are good for so long.</summary>
    public static Duration ConfirmsWithin { get; } = Duration.FromDays(7);

    /// <summary>Mails that ask to confirm, to one address within an hour.</summary>
    public const int MostAsksAnHour = 3;

    /// <summary>A person who says yes for the first time.</summary>
    /// <param name="promise">What they agreed to; null where nothing was promised.</param>
    /// <param name="confirms">Whether it counts only once they confirm it.</param>
    /// <param name="now">When.</param>
    public static LeadLife Begin(Guid? promise, bool confirms, Instant now) =>
        new(
            confirms ? LeadState.Waiting : LeadState.Confirmed,
            promise is { } agreed ? [agreed] : [],
            [],
            confirms ? null : now,
            null,
            null
        );

    /// <summary>Says yes again. By a promise that was taken back nothing changes; by another they wait for their confirmation anew.</summary>
    public LeadLife SayYes(Guid? promise, bool confirms, Instant now)
    {
        if (promise is { } taken && Withdrawn.Contains(taken))
            return this;
        var promises = promise is { } agreed && !Promises.Contains(agreed) ? [.. Promises, agreed] : Promises;
        return State switch
        {
            // Who confirmed an address once is the one who has it.
            LeadState.Confirmed => this with { Promises = promises },
            _ when confirms => this with { State = LeadState.Waiting, Promises = promises },
            _ => this with { State = LeadState.Confirmed, Promises = promises, ConfirmedAt = ConfirmedAt ?? now },
        };
    }

    /// <summary>A file says that they agreed. Whoever took it back has the last word, and mails to whoever cannot be reached come back whatever a file says.</summary>
    /// <param name="promise">What the file says they agreed to; null where it says nothing.</param>
    /// <param name="at">When it says they did.</param>
    public LeadLife TakeFromFile(Guid? promise, Instant at) =>
        promise is null || State is LeadState.Withdrawn or LeadState.Unreachable
            ? this
            : SayYes(promise, confirms: false, at);

    /// <summary>Presses the button in the mail. Whoever took it back meanwhile has taken it back.</summary>
    public LeadLife Confirm(Instant now) =>
        State is LeadState.Waiting or LeadState.Unreachable
            ? this with
            {
                State = LeadState.Confirmed,
                ConfirmedAt = ConfirmedAt ?? now,
                UnreachableAt = null,
            }
            : this;

    /// <summary>Takes all of it back.</summary>
    public LeadLife Withdraw(Instant now) =>
        State == LeadState.Withdrawn
            ? this
            : this with
            {
                State = LeadState.Withdrawn,
                Promises = [],
                Withdrawn = [.. Withdrawn.Union(Promises)],
                WithdrawnAt = now,
            };

    /// <summary>A mail came back for good.</summary>
    public LeadLife ComeBack(Instant now) =>
        State is LeadState.Waiting or LeadState.Confirmed
            ? this with
            {
                State = LeadState.Unreachable,
                UnreachableAt = now,
            }
            : this;

    /// <summary>Whether what was written to somebody while they could be reached may still go out to them.</summary>
    public static bool MayStillGoTo(LeadState state) => state is LeadState.Waiting or LeadState.Confirmed;

    /// <summary>Whether a mail may be sent that they agreed to.</summary>
    public bool MayBeWrittenTo => State == LeadState.Confirmed;

    /// <summary>Whether a mail that asks them to confirm may be sent.</summary>
    public bool MayBeAskedToConfirm => State == LeadState.Waiting;
}
