using Outcry.Core.Timing;

namespace Outcry.Core.Planning;

/// <summary>Says what many reasons of one sort have in common, without the figures of any of them.</summary>
public static class ReasonGist
{
    /// <summary>The gist, as it reads after a number of page views.</summary>
    public static string Say(Reason reason) =>
        reason switch
        {
            SiteOffAir => "the site is off air",
            NotLive => "it is not live",
            PageExcluded or PageNotIncluded => "not one of its pages",
            QuietPage => "the page is kept quiet by house rule",
            OutsideSchedule => "outside its dates or hours",
            DeviceLeftOut => "hidden on the visitor's device",
            VisitorDiffers => "not a visitor it asks for",
            NoConsent => "the visitor had not agreed",
            NobodyAvailable => "nobody of the team was there",
            ClosedBefore => "closed by the visitor before",
            Succeeded => "the visitor had done what it asks for",
            SeenOften r => OftenIn(r.Limit.Span),
            HeldBack => "held back to measure its effect",
            Replaced => "a callout more particular to the page took its place",
            TooFewEvents => "too few events to tell anything",
            OnlyOwnEvents => "too few events but the visitor's own",
            NothingLow => "nothing low enough to tell",
            TooFewNear => "too few events from where the visitor is",
            TooFewOfPage => "too few events about the page's product",
            NeverDue r => $"the visitor did not {TriggerWords.Did(r.Waits)}",
            HeldByPage r => r.Hold switch
            {
                HoldKind.Consent => "the consent notice was open until the page was left",
                HoldKind.Chat => "a chat was open until the page was left",
                _ => "a dialog of the page was open until the page was left",
            },
            NoRoom => "no room on the screen",
            NoPlace => "its place is not on the page",
            WordingFailed => "its words could not be said",
            NoFreeSlot => "its place was taken for as long as it waits",
            BudgetSpent => "the visit had had as many callouts as it may",
            Hushed => "the visitor was left in peace after closing something",
            LeftBefore => "the page was left before its turn",
            _ => throw new ArgumentOutOfRangeException(nameof(reason), reason, null),
        };

    private static string OftenIn(RepeatSpan span) =>
        span switch
        {
            RepeatSpan.Visit => "seen already in the same visit",
            RepeatSpan.Days => "seen too short a time ago",
            RepeatSpan.Week => "seen as often as it may be in a week",
            RepeatSpan.Clicked => "clicked already",
            _ => "seen as often as it may ever be",
        };
}
