using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Core.Publishing;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;

namespace Outcry.Core.Greetings;

/// <summary>What somebody wants to greet for.</summary>
public enum GreetingPurpose
{
    /// <summary>An own start: everybody, after a while.</summary>
    Own,

    /// <summary>Help with choosing, on a page looked at for long.</summary>
    Choosing,

    /// <summary>Visits of a group.</summary>
    Groups,

    /// <summary>Questions about an order.</summary>
    Orders,

    /// <summary>A word while nobody is there.</summary>
    Away,

    /// <summary>A word to those who are new.</summary>
    NewHere,
}

/// <summary>What a launcher and its greetings begin with: calm, and good enough to leave alone.</summary>
public static class LauncherStarter
{
    /// <summary>Greetings in one visit at most.</summary>
    public const int MostPerVisit = 2;

    /// <summary>Seconds that a bubble stays.</summary>
    public const int StaySeconds = 8;

    /// <summary>Distance of the button from the edges, in CSS pixels.</summary>
    public const int EdgePx = 16;

    /// <summary>A launcher with a way to write and hours of a usual week.</summary>
    /// <param name="zone">IANA zone of the site.</param>
    /// <param name="band">Colour of the band, #RRGGBB.</param>
    /// <param name="ground">Colour of the ground, #RRGGBB.</param>
    public static LauncherBrief Launcher(string zone, string band, string ground) =>
        new(
            new WhereFacet([], [], [], Replaces: false),
            new WhoFacet(VisitorRule.Everybody, []),
            Priority: 5,
            new LauncherLook(
                ButtonSign.Speech,
                "",
                ShowsWords: true,
                Side.Right,
                EdgePx,
                EdgePx,
                Side.Right,
                EdgePx,
                ButtonSize.Normal,
                band,
                ground,
                Dot: true,
                Typeface.Page
            ),
            new Speaker(Members: true, "", "", ""),
            [
                new LauncherWords(
                    "",
                    "Ask us",
                    "Leave a message",
                    "",
                    "How can we help?",
                    "We are closed just now. Leave a message and we answer by e-mail.",
                    ""
                ),
            ],
            [
                new Channel(
                    Guid.CreateVersion7(),
                    ChannelKind.Chat,
                    "",
                    "",
                    "",
                    "",
                    "",
                    [],
                    ChannelHours.Always,
                    [],
                    [],
                    [],
                    NewWindow: false
                ),
            ],
            new OpeningHours(
                zone,
                [
                    .. new[]
                    {
                        IsoDayOfWeek.Monday,
                        IsoDayOfWeek.Tuesday,
                        IsoDayOfWeek.Wednesday,
                        IsoDayOfWeek.Thursday,
                        IsoDayOfWeek.Friday,
                    }.Select(d => new HoursSpan(d, new LocalTime(9, 0), new LocalTime(17, 0))),
                ],
                [],
                [],
                OnlyIfPresent: false
            ),
            new WhenClosed(Hides: false, TakesMessages: true, SaysNext: true),
            [],
            ThenNext: false,
            MostPerVisit,
            "",
            Direct: true,
            []
        );

    /// <summary>A greeting for a purpose, to be changed in every part.</summary>
    public static Rung Rung(GreetingPurpose purpose)
    {
        var start = new Rung(
            Guid.CreateVersion7(),
            new WhereFacet([], [], [], Replaces: false),
            new WhoFacet(VisitorRule.Everybody, []),
            [],
            GreetsWhile.Always,
            new DueFacet([Trigger.After(30)], Join.All, Schedule.Always, OnlyIfAvailable: false),
            new HowOftenFacet(
                RepeatUnit.Visit,
                1,
                null,
                null,
                UntilClicked: false,
                StarterBrief.HushHours,
                Pause.None,
                [],
                Pause.ForEver
            ),
            [new GreetingWords("", "Questions? Ask away.", [])],
            GreetingAct.Bubble,
            Sound: false,
            StaySeconds
        );
        return purpose switch
        {
            GreetingPurpose.Choosing => start with
            {
                When = start.When with { Triggers = [Trigger.After(45)] },
                Words =
                [
                    new GreetingWords(
                        "",
                        "Not sure which one? We are glad to help you choose.",
                        ["Which size do I need?", "What is the difference?"]
                    ),
                ],
            },
            GreetingPurpose.Groups => start with
            {
                When = start.When with { Triggers = [Trigger.After(40)] },
                Words =
                [
                    new GreetingWords(
                        "",
                        "Coming as a group? Tell us how many you are.",
                        ["Up to eight", "More than eight"]
                    ),
                ],
                Does = GreetingAct.OpenPanel,
            },
            GreetingPurpose.Orders => start with
            {
                Who = new WhoFacet(new FactTest(VisitorFact.Bought, FactComparison.Is, "", "", 30), []),
                When = start.When with { Triggers = [] },
                Words =
                [
                    new GreetingWords(
                        "",
                        "A question about your order?",
                        ["Where is my parcel?", "Something is broken"]
                    ),
                ],
            },
            GreetingPurpose.Away => start with
            {
                While = GreetsWhile.Closed,
                Words = [new GreetingWords("", "Nobody is here just now. Leave a message and we answer tomorrow.", [])],
            },
            GreetingPurpose.NewHere => start with
            {
                Who = new WhoFacet(new FactTest(VisitorFact.Standing, FactComparison.Is, "new"), []),
                When = start.When with { Triggers = [Trigger.After(20)], OnlyIfAvailable = true },
                Words = [new GreetingWords("", "New here? Ask us anything.", [])],
            },
            _ => start,
        };
    }
}
