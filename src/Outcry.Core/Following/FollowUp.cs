using Outcry.Core.Publishing;
using Outcry.Core.Timing;

namespace Outcry.Core.Following;

/// <summary>By what somebody comes into a follow-up.</summary>
public enum FollowsAfter
{
    /// <summary>A yes to a prompt or in a script, once they may be written to.</summary>
    Yes,

    /// <summary>A tag that they are given.</summary>
    Tag,
}

/// <summary>What a step does.</summary>
public enum FollowKind
{
    /// <summary>Lets time pass.</summary>
    Wait,

    /// <summary>Writes a mail.</summary>
    Mail,

    /// <summary>Gives a tag.</summary>
    Tag,

    /// <summary>Sends a text message.</summary>
    Text,

    /// <summary>Tells a webhook.</summary>
    Tell,
}

/// <summary>The words of a mail or a text message in one language.</summary>
/// <param name="Language">BCP 47 tag; empty for the site's own.</param>
/// <param name="Subject">A mail's subject; Liquid with {{ first_name }} and answers.</param>
/// <param name="Text">Its text; the same.</param>
/// <param name="Button">Words on a mail's one button; empty for none.</param>
public sealed record FollowWords(string Language, string Subject, string Text, string Button);

/// <summary>One step.</summary>
/// <param name="Id">By which those who are at it are counted.</param>
/// <param name="Kind">What it does.</param>
/// <param name="Minutes">Of Wait: how long, 1 minute to 90 days.</param>
/// <param name="Words">Of Mail and Text: its words, the site's own language first.</param>
/// <param name="Link">Of Mail: where its button leads.</param>
/// <param name="Tag">Of Tag: which. Of Tell: the word by which the receiver knows this step.</param>
/// <param name="WebhookId">Of Tell: which webhook.</param>
public sealed record FollowStep(
    Guid Id,
    FollowKind Kind,
    int Minutes,
    IReadOnlyList<FollowWords> Words,
    string Link,
    string Tag,
    Guid? WebhookId = null
)
{
    /// <summary>Whether it writes to somebody, which keeps to the hours and to a day's distance.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public bool Writes => Kind is FollowKind.Mail or FollowKind.Text;
}

/// <summary>A follow-up, as its author edits it and revisions freeze it.</summary>
/// <param name="After">By what somebody comes into it.</param>
/// <param name="DefinitionId">Of a yes: to which prompt or in which script.</param>
/// <param name="Tag">Of a tag: which.</param>
/// <param name="Steps">Its steps in order.</param>
/// <param name="Hours">Hours of the week, on the reader's own clock where that is known and else on the site's, in which it writes; none for any.</param>
/// <param name="GoalSourceId">A source: whoever an event of it is of has come to the end; null for none.</param>
/// <param name="EndsWithTalk">Whether it ends for whoever writes in a talk.</param>
public sealed record FollowUp(
    FollowsAfter After,
    Guid? DefinitionId,
    string Tag,
    IReadOnlyList<FollowStep> Steps,
    IReadOnlyList<HoursSpan> Hours,
    Guid? GoalSourceId,
    bool EndsWithTalk
)
{
    /// <summary>Whether somebody comes into it.</summary>
    /// <param name="yesTo">To what they said yes; null for nothing.</param>
    /// <param name="tags">Tags they were given.</param>
    public bool Follows(Guid? yesTo, IReadOnlyList<string> tags) =>
        After == FollowsAfter.Yes
            ? yesTo is not null && DefinitionId == yesTo
            : tags.Contains(Tag.Trim(), StringComparer.OrdinalIgnoreCase);

    /// <summary>Two mails, a day and four days after a yes.</summary>
    public static FollowUp Start { get; } =
        new(FollowsAfter.Yes, null, "", [Wait(1_440), Write(), Wait(3 * 1_440), Write()], [], null, EndsWithTalk: true);

    private static FollowStep Wait(int minutes) => new(Guid.CreateVersion7(), FollowKind.Wait, minutes, [], "", "");

    private static FollowStep Write() =>
        new(Guid.CreateVersion7(), FollowKind.Mail, 0, [new FollowWords("", "", "", "")], "", "");
}

/// <summary>A follow-up that is live.</summary>
/// <param name="Definition">What it is known by.</param>
/// <param name="FollowUp">As its author wrote it.</param>
public sealed record LiveFollowUp(Definition Definition, FollowUp FollowUp);
