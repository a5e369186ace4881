namespace Outcry.Core.Access;

/// <summary>When a publication needs a second person, and who can be one.</summary>
public static class SecondPerson
{
    /// <summary>Whether a change needs somebody who did not write it.</summary>
    /// <param name="habit">What the team agreed on.</param>
    /// <param name="promisedBefore">What the live revision promises visitors; empty for nothing.</param>
    /// <param name="promisedNow">What the draft promises them.</param>
    public static bool IsNeeded(ReviewHabit habit, string promisedBefore, string promisedNow) =>
        habit switch
        {
            ReviewHabit.Everything => true,
            ReviewHabit.Promises => promisedNow.Length > 0 && promisedNow != promisedBefore,
            _ => false,
        };

    /// <summary>Whether somebody can be the second person: who may publish and wrote nothing of it since it was published last.</summary>
    public static bool CanBe(Guid member, Role role, IReadOnlyCollection<Guid> authors) =>
        AccessTable.Allows(role, Right.Publish) && !authors.Contains(member);
}
