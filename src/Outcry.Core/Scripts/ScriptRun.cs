using System.Collections.Immutable;
using NodaTime;
using Outcry.Core.Pages;

namespace Outcry.Core.Scripts;

/// <summary>What the script can know when it runs.</summary>
/// <param name="Language">BCP 47 tag in which the talk is held.</param>
/// <param name="SiteLanguage">BCP 47 tag of the site's own language.</param>
/// <param name="Page">The page that the visitor is on.</param>
/// <param name="Segments">Segments that the visitor is in.</param>
/// <param name="IsKnown">Whether the site knows who it is.</param>
/// <param name="IsOpen">Whether the launcher is open.</param>
/// <param name="Here">Members who could take the talk now, those with the fewest open talks first.</param>
/// <param name="GroupsHere">Groups of which somebody could take the talk now.</param>
/// <param name="Today">The day at the visitor's.</param>
/// <param name="Region">Where numbers without a country code are dialled: ISO 3166-1, two letters.</param>
/// <param name="Tokens">What words can name besides kept answers: "next_opening".</param>
public sealed record Circumstances(
    string Language,
    string SiteLanguage,
    PageAddress Page,
    IReadOnlySet<Guid> Segments,
    bool IsKnown,
    bool IsOpen,
    IReadOnlyList<Guid> Here,
    IReadOnlySet<Guid> GroupsHere,
    LocalDate Today,
    string Region,
    IReadOnlyDictionary<string, string> Tokens
)
{
    /// <summary>The times that each question for one offers now.</summary>
    public IReadOnlyDictionary<Guid, IReadOnlyList<OfferedTime>> Times { get; init; } =
        new Dictionary<Guid, IReadOnlyList<OfferedTime>>();

    /// <summary>Where each offer of a channel leads now; one that is not in it leads nowhere.</summary>
    public IReadOnlyDictionary<Guid, string> Offers { get; init; } = new Dictionary<Guid, string>();
}

/// <summary>An answer that is kept.</summary>
/// <param name="Value">As it was understood; empty where it was not.</param>
/// <param name="Said">As it was written.</param>
/// <param name="IsUnderstood">Whether it made sense.</param>
public sealed record KeptAnswer(string Value, string Said, bool IsUnderstood);

/// <summary>How a script stands in a talk.</summary>
/// <param name="Waits">The question that waits for an answer; null where none does.</param>
/// <param name="Failed">How often its answers have made no sense.</param>
/// <param name="Kept">Answers by field.</param>
/// <param name="IsOver">Whether it says nothing more in this talk.</param>
/// <param name="Passed">Steps that were taken, in order.</param>
public sealed record ScriptState(
    Guid? Waits,
    int Failed,
    ImmutableSortedDictionary<string, KeptAnswer> Kept,
    bool IsOver,
    ImmutableList<Guid> Passed
)
{
    /// <summary>Before its first step.</summary>
    public static ScriptState Start { get; } =
        new(null, 0, ImmutableSortedDictionary.Create<string, KeptAnswer>(StringComparer.Ordinal), false, []);
}

/// <summary>What a script does next.</summary>
public enum OutputKind
{
    /// <summary>Says words.</summary>
    Say,

    /// <summary>Asks, with ready replies.</summary>
    Ask,

    /// <summary>Offers something to press.</summary>
    Offer,

    /// <summary>Would have offered what cannot be had now; the words are for the team.</summary>
    NotOffered,

    /// <summary>Hands the talk over.</summary>
    HandOver,

    /// <summary>Could not go on as it should.</summary>
    Fault,

    /// <summary>Has ended.</summary>
    End,
}

/// <summary>One thing that a script does.</summary>
/// <param name="Step">By which step.</param>
/// <param name="Kind">What.</param>
/// <param name="Text">The words; of a fault what went wrong, for the team.</param>
/// <param name="Replies">Ready replies.</param>
/// <param name="Address">Of an offer.</param>
/// <param name="Member">Of a hand-over: to whom; null for whoever is there.</param>
/// <param name="Group">Of a hand-over to a group: which.</param>
public sealed record ScriptOutput(
    Guid Step,
    OutputKind Kind,
    string Text,
    IReadOnlyList<string> Replies,
    string Address = "",
    Guid? Member = null,
    Guid? Group = null
);

/// <summary>Where a script has come to, and what it did on the way.</summary>
public sealed record ScriptResult(ScriptState State, IReadOnlyList<ScriptOutput> Outputs);
