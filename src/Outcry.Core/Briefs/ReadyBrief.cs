using Outcry.Core.Asking;
using Outcry.Core.Evidence;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;

namespace Outcry.Core.Briefs;

/// <summary>A brief that is ready but for the wording: a kind in a shape that suits it, at a moment that suits both.</summary>
/// <param name="Key">Its name in addresses.</param>
/// <param name="Name">Its name.</param>
/// <param name="Does">What it does, as a sentence.</param>
/// <param name="Kind">The kind.</param>
/// <param name="Of">The kinds of event it can draw on, the best first; none where it draws on none.</param>
public sealed record ReadyBrief(string Key, string Name, string Does, CalloutKind Kind, IReadOnlyList<EventKind> Of)
{
    /// <summary>The kind of event it would rather draw on; a purchase where it draws on none.</summary>
    public EventKind Usual => Of is [var first, ..] ? first : EventKind.Purchase;

    private Func<Brief, Brief> Make { get; init; } = b => b;

    /// <summary>The brief on the given sources.</summary>
    /// <param name="of">The kind of their events.</param>
    /// <param name="sources">The sources; none where it draws on none.</param>
    /// <param name="language">BCP 47 tag of the site's own language.</param>
    public Brief On(EventKind of, IReadOnlyList<Guid> sources, string language = "en") =>
        Make(StarterBrief.For(Kind, of, sources, language));

    /// <summary>All ready briefs, the most usual first.</summary>
    public static IReadOnlyList<ReadyBrief> All { get; } =
    [
        new(
            "lately-in-turns",
            "What others did lately, in turns",
            "Three real events one after another, in a corner, from six seconds on.",
            CalloutKind.Moment,
            [EventKind.Purchase, EventKind.Booking, EventKind.SignUp, EventKind.Enquiry]
        )
        {
            Make = b => b with { When = b.When with { Turns = 3 } },
        },
        new(
            "of-this-page",
            "Who took this very piece",
            "One real event about the product of the page that is read, told with a small map.",
            CalloutKind.Moment,
            [EventKind.Purchase, EventKind.Booking, EventKind.BasketAddition]
        )
        {
            Make = b =>
                b with
                {
                    From = b.From with { OfThisPage = true, WindowMinutes = 30 * Day },
                    Say = b.Say with { Picture = SayPicture.Map, Link = LinkTarget.None },
                },
        },
        new(
            "week-on-a-ribbon",
            "How many this week, along the top",
            "The people of the last seven days, each once, on a ribbon along the top edge.",
            CalloutKind.Tally,
            [EventKind.Booking, EventKind.Purchase, EventKind.SignUp, EventKind.Enquiry]
        )
        {
            Make = b =>
                b with
                {
                    Look = b.Look with
                    {
                        Shape = Shape.Ribbon,
                        Edge = Edge.Top,
                        PhoneEdge = Edge.Top,
                        StaySeconds = 12,
                    },
                },
        },
        new(
            "here-after-a-while",
            "Who is here now, for those who linger",
            "How many look around now, after half a minute on the page, from five people on.",
            CalloutKind.Headcount,
            []
        )
        {
            Make = b =>
                b with
                {
                    From = b.From with { LeastNumber = 5 },
                    When = b.When with { Triggers = [Trigger.After(30)] },
                },
        },
        new(
            "last-ones-in-the-page",
            "Last ones, in the page itself",
            "What is left of this very product, inside the page's own content, until the page is left.",
            CalloutKind.Remainder,
            [EventKind.StockLevel]
        )
        {
            Make = b =>
                b with
                {
                    From = b.From with { OfThisPage = true },
                    Say = b.Say with { Picture = SayPicture.None, Link = LinkTarget.None },
                    When = b.When with { Triggers = [Trigger.After(0)] },
                    HowOften = b.HowOften with { Unit = RepeatUnit.PageView, MostPerWeek = null },
                    Look = b.Look with { Shape = Shape.Inset, Anchor = "h1", StaySeconds = null, CloseMark = false },
                },
        },
        new(
            "review-far-down",
            "A review for those who read on",
            "What somebody said, from the side, once half the page was read.",
            CalloutKind.Quote,
            [EventKind.Review, EventKind.Endorsement]
        )
        {
            Make = b =>
                b with
                {
                    When = b.When with { Triggers = [new Trigger(TriggerKind.Scroll, 50)] },
                    Look = b.Look with { Shape = Shape.Drawer, Side = Side.Right, StaySeconds = 20 },
                },
        },
        new(
            "totals-on-a-crawl",
            "Where we stand, along the bottom",
            "A total from elsewhere, on one line along the bottom edge.",
            CalloutKind.Standing,
            [EventKind.Total]
        )
        {
            Make = b => b with { Look = b.Look with { Shape = Shape.Crawl, StaySeconds = 15 } },
        },
        new(
            "news-on-leaving",
            "A word before they go",
            "Your news in the middle of the screen, when a visitor on a desktop turns to leave, once in thirty days.",
            CalloutKind.Notice,
            []
        )
        {
            Make = b =>
                b with
                {
                    When = b.When with { Triggers = [new Trigger(TriggerKind.Leaving)] },
                    Who = b.Who with { HiddenOn = [Device.Phone, Device.Tablet] },
                    HowOften = b.HowOften with { Unit = RepeatUnit.Days, Every = 30, MostPerWeek = null },
                    Look = b.Look with { Shape = Shape.Poster, StaySeconds = null },
                },
        },
        new(
            "news-for-regulars",
            "News for those who come back",
            "Your news on a ribbon, for visitors who have been here before.",
            CalloutKind.Notice,
            []
        )
        {
            Make = b =>
                b with
                {
                    Who = b.Who with { Rule = new FactTest(VisitorFact.Standing, FactComparison.Is, "returning") },
                    Look = b.Look with
                    {
                        Shape = Shape.Ribbon,
                        Edge = Edge.Top,
                        PhoneEdge = Edge.Top,
                        StaySeconds = 20,
                    },
                },
        },
        new(
            "letters-once-they-read",
            "Letters, once they have read",
            "Asks for an e-mail address in the middle of the screen, far down the page or as they leave, and confirms it by mail.",
            CalloutKind.Prompt,
            []
        )
        {
            Make = b => b,
        },
        new(
            "a-number-from-the-side",
            "A number, from the side",
            "Asks for a phone number on a drawer, after forty seconds, from visitors who have been here before.",
            CalloutKind.Prompt,
            []
        )
        {
            Make = b =>
                b with
                {
                    Ask = AskStarter.Number,
                    Who = b.Who with { Rule = new FactTest(VisitorFact.Standing, FactComparison.Is, "returning") },
                    When = b.When with { Triggers = [Trigger.After(40)] },
                    Look = b.Look with { Shape = Shape.Drawer, Side = Side.Right },
                },
        },
    ];

    private const int Day = 24 * 60;
}
