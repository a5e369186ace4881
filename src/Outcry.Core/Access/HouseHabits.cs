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

/// <summary>How a team wants to work, for a whole workspace.</summary>
/// <param name="Review">Which publications need a second person.</param>
/// <param name="Factor">Who has to sign in with a second factor.</param>
/// <param name="AwayHours">Hours without a request after which a session ends: <see cref="LeastAway"/> to <see cref="MostAway"/>.</param>
public sealed record HouseHabits(ReviewHabit Review, FactorHabit Factor, int AwayHours)
{
    /// <summary>Hours; shorter would end a session over lunch.</summary>
    public const int LeastAway = 1;

    /// <summary>Hours, two weeks: as long as the cookie lasts.</summary>
    public const int MostAway = 24 * 14;

    /// <summary>As a new workspace has them.</summary>
    public static HouseHabits Start { get; } = new(ReviewHabit.Promises, FactorHabit.Nobody, 24 * 7);

    /// <summary>Whether a role has to sign in with a second factor.</summary>
    public bool NeedsFactor(Role role) =>
        Factor == FactorHabit.Everybody || (Factor == FactorHabit.Owners && role == Role.Owner);

    /// <summary>What is wrong with them; empty for nothing.</summary>
    public IReadOnlyList<Problem> Check() =>
        AwayHours is < LeastAway or > MostAway
            ? [new Problem("awayHours", $"A session ends after {LeastAway} hour to {MostAway} hours away.")]
            : [];
}
