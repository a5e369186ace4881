using Outcry.Core.Publishing;

namespace Outcry.Core.Access;

/// <summary>Which publications need a second person.</summary>
public enum ReviewHabit
{
    /// <summary>None; anybody may still ask for one.</summary>
    Nothing,

    /// <summary>What promises something to visitors: an offer, a consent, a reward.</summary>
    Promises,

    /// <summary>All of them.</summary>
    Everything,
}

/// <summary>Who has to sign in with a second factor.</summary>
public enum FactorHabit
{
    /// <summary>Nobody has to; everybody may.</summary>
    Nobody,

    /// <summary>Owners.</summary>
    Owners,

    /// <summary>Every member.</summary>
    Everybody,
}

/// <summary>How a team answers visitors.</summary>
/// <param name="IdleMinutes">Minutes without a movement at a desk after which its member is away for visitors: 5 to 60.</param>
/// <param name="GroupMinutes">Minutes of open time after which those who answer are told that a visitor waits: 1 to 60.</param>
/// <param name="EverybodyMinutes">Minutes after which everybody is told: more than that, to 240.</param>
public sealed record AnswerHabits(int IdleMinutes, int GroupMinutes, int EverybodyMinutes)
{
    /// <summary>As a new workspace has them: ten, two and five minutes.</summary>
    public static AnswerHabits Start { get; } = new(10, 2, 5);

    /// <summary>What is wrong with them; empty for nothing.</summary>
    public IReadOnlyList<Problem> Check() =>
        [
            .. IdleMinutes is < 5 or > 60
                ? [new Problem("answers.idleMinutes", "Somebody is away after 5 to 60 minutes without a movement.")]
                : Array.Empty<Problem>(),
            .. GroupMinutes is < 1 or > 60
                ? [new Problem("answers.groupMinutes", "Those who answer are told after 1 to 60 minutes.")]
                : Array.Empty<Problem>(),
            .. EverybodyMinutes <= GroupMinutes || EverybodyMinutes > 240
                ?
                [
                    new Problem(
                        "answers.everybodyMinutes",
                        "Everybody is told later than those who answer, after 240 minutes at most."
                    ),
                ]
                : Array.Empty<Problem>(),
        ];
}

/// <summary>How a team wants to work, for a whole workspace.</summary>
/// <param name="Review">Which publications need a second person.</param>
/// <param name="Factor">Who has to sign in with a second factor.</param>
/// <param name="AwayHours">Hours without a request after which a session ends: <see cref="LeastAway"/> to <see cref="MostAway"/>.</param>
/// <param name="Answers">How visitors are answered.</param>
public sealed record HouseHabits(ReviewHabit Review, FactorHabit Factor, int AwayHours, AnswerHabits Answers)
{
    /// <summary>Hours; shorter would end a session over lunch.</summary>
    public const int LeastAway = 1;

    /// <summary>Hours, two weeks: as long as the cookie lasts.</summary>
    public const int MostAway = 24 * 14;

    /// <summary>As a new workspace has them.</summary>
    public static HouseHabits Start { get; } =
        new(ReviewHabit.Promises, FactorHabit.Nobody, 24 * 7, AnswerHabits.Start);

    /// <summary>Whether a role has to sign in with a second factor.</summary>
    public bool NeedsFactor(Role role) =>
        Factor == FactorHabit.Everybody || (Factor == FactorHabit.Owners && role == Role.Owner);

    /// <summary>What is wrong with them; empty for nothing.</summary>
    public IReadOnlyList<Problem> Check() =>
        AwayHours is < LeastAway or > MostAway
            ? [new Problem("awayHours", $"A session ends after {LeastAway} hour to {MostAway} hours away.")]
            : Answers.Check();
}
