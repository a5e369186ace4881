using Outcry.Core.Asking;
using Outcry.Core.Evidence;
using Outcry.Core.Publishing;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;

namespace Outcry.Core.Briefs;

/// <summary>The values a new brief starts with: chosen for a calm site, good enough to leave alone.</summary>
public static class StarterBrief
{
    /// <summary>Seconds before a callout first shows.</summary>
    public const int FirstWaitSeconds = 6;

    /// <summary>Colour of the band: a quiet grey that goes with any site.</summary>
    public const string Band = "#3A4048";

    /// <summary>Colour of the ground.</summary>
    public const string Ground = "#FFFFFF";

    /// <summary>Seconds a callout stays.</summary>
    public const int StaySeconds = 7;

    /// <summary>Seconds between two turns.</summary>
    public const int TurnGapSeconds = 12;

    /// <summary>Fewest events before anything is said.</summary>
    public const int LeastNumber = 3;

    /// <summary>Seven days, in minutes.</summary>
    public const int WindowMinutes = 7 * 24 * 60;

    /// <summary>Hours of hush after a close.</summary>
    public const int HushHours = 24;

    /// <summary>Visits of a week in which it may start.</summary>
    public const int MostPerWeek = 4;

    /// <summary>The most that may be left before a remainder is told.</summary>
    public const int MostLeft = 5;

    /// <summary>Fewest stars of a review that is told.</summary>
    public const decimal LeastStars = 4;

    /// <summary>A moment on the given sources, worded for their kind of event.</summary>
    public static Brief Moment(EventKind kind, IReadOnlyList<Guid> sources, string language = "en") =>
        For(CalloutKind.Moment, kind, sources, language);

    /// <summary>A brief of a kind on the given sources, worded for their kind of event.</summary>
    /// <param name="kind">The kind.</param>
    /// <param name="of">Kind of the sources' events; ignored by kinds that draw on none.</param>
    /// <param name="sources">The sources; none for kinds that draw on none.</param>
    /// <param name="language">BCP 47 tag of the site's own language: in which words.</param>
    public static Brief For(CalloutKind kind, EventKind of, IReadOnlyList<Guid> sources, string language = "en") =>
        kind == CalloutKind.Prompt ? AsPrompt(Plain(kind, of, sources, language)) : Plain(kind, of, sources, language);

    private static Brief Plain(CalloutKind kind, EventKind of, IReadOnlyList<Guid> sources, string language) =>
        new(
            kind,
            new SayFacet(
                StarterWording.For(kind, of, language),
                "",
                "",
                [],
                PictureOf(kind),
                "",
                kind is CalloutKind.Moment or CalloutKind.Remainder ? LinkTarget.Product : LinkTarget.None,
                "",
                NewTab: false,
                "",
                kind is CalloutKind.Moment ? TimeStyle.Ago : TimeStyle.Hidden,
                NumberStyle.Exact,
                ""
            ),
            new FromFacet(
                sources,
                [],
                Join.All,
                WindowOf(kind),
                null,
                LeastOf(kind),
                Shuffle: true,
                kind is CalloutKind.Tally ? Measure.People : Measure.Events,
                Nearness.Anywhere,
                [],
                OfThisPage: false,
                MostLeft,
                LeastStars
            ),
            new WhereFacet([], [], [], Replaces: false),
            new WhoFacet(VisitorRule.Everybody, []),
            new WhenFacet(
                [Trigger.After(FirstWaitSeconds)],
                Join.All,
                1,
                TurnGapSeconds,
                1,
                Schedule.Always,
                OnlyIfAvailable: false
            ),
            new HowOftenFacet(
                RepeatUnit.Visit,
                1,
                null,
                MostPerWeek,
                UntilClicked: false,
                HushHours,
                Pause.None,
                [],
                Pause.ForEver
            ),
            new LookFacet(
                Shape.Slip,
                Side.Left,
                Edge.Bottom,
                Edge.Bottom,
                "",
                InsetPlace.After,
                Band,
                Ground,
                CloseMark: true,
                StaySeconds,
                Typeface.Page
            ),
            Priority: 5,
            HoldbackPercent: 0
        );

    // A level, a total, a review stand until the next one; a count is of a week; who is here now is here now.
    private static int? WindowOf(CalloutKind kind) =>
        kind is CalloutKind.Moment or CalloutKind.Tally ? WindowMinutes : null;

    private static int LeastOf(CalloutKind kind) =>
        kind is CalloutKind.Moment or CalloutKind.Tally or CalloutKind.Headcount ? LeastNumber : 1;

    // A question waits until it is answered or shut, comes on leaving or far down, and rests for long after either.
    private static Brief AsPrompt(Brief brief) =>
        brief with
        {
            Ask = AskStarter.Letters,
            When = brief.When with
            {
                Triggers = [new Trigger(TriggerKind.Scroll, 60, ""), new Trigger(TriggerKind.Leaving, 0, "")],
                Join = Join.Any,
            },
            HowOften = brief.HowOften with
            {
                MostPerWeek = 1,
                UntilClicked = true,
                AfterClose = new Pause(RepeatUnit.Days, 90),
            },
            Look = brief.Look with { Shape = Shape.Poster, StaySeconds = null },
        };

    private static SayPicture PictureOf(CalloutKind kind) =>
        kind switch
        {
            CalloutKind.Moment or CalloutKind.Remainder => SayPicture.Product,
            CalloutKind.Quote => SayPicture.Initials,
            _ => SayPicture.Sign,
        };
}
