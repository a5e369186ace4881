using System.Text.Json.Serialization;
using NodaTime;
using Outcry.Core.Publishing;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;

namespace Outcry.Core.Explaining;

/// <summary>Why a callout was not shown, with the figures that decided it.</summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "kind")]
[JsonDerivedType(typeof(SiteOffAir), "siteOffAir")]
[JsonDerivedType(typeof(NotLive), "notLive")]
[JsonDerivedType(typeof(PageExcluded), "pageExcluded")]
[JsonDerivedType(typeof(PageNotIncluded), "pageNotIncluded")]
[JsonDerivedType(typeof(NoPageSeen), "noPageSeen")]
[JsonDerivedType(typeof(QuietPage), "quietPage")]
[JsonDerivedType(typeof(Hushed), "hushed")]
[JsonDerivedType(typeof(SeenOften), "seenOften")]
[JsonDerivedType(typeof(TooFewEvents), "tooFewEvents")]
[JsonDerivedType(typeof(OnlyOwnEvents), "onlyOwnEvents")]
[JsonDerivedType(typeof(NoFreeSlot), "noFreeSlot")]
[JsonDerivedType(typeof(BudgetSpent), "budgetSpent")]
[JsonDerivedType(typeof(LeftBefore), "leftBefore")]
[JsonDerivedType(typeof(OutsideSchedule), "outsideSchedule")]
[JsonDerivedType(typeof(DeviceLeftOut), "deviceLeftOut")]
[JsonDerivedType(typeof(VisitorDiffers), "visitorDiffers")]
[JsonDerivedType(typeof(NoConsent), "noConsent")]
[JsonDerivedType(typeof(NobodyAvailable), "nobodyAvailable")]
[JsonDerivedType(typeof(AlreadyGave), "alreadyGave")]
[JsonDerivedType(typeof(TookPromiseBack), "tookPromiseBack")]
[JsonDerivedType(typeof(NoCodesLeft), "noCodesLeft")]
[JsonDerivedType(typeof(ClosedBefore), "closedBefore")]
[JsonDerivedType(typeof(Succeeded), "succeeded")]
[JsonDerivedType(typeof(HeldBack), "heldBack")]
[JsonDerivedType(typeof(Replaced), "replaced")]
[JsonDerivedType(typeof(NothingLow), "nothingLow")]
[JsonDerivedType(typeof(TooFewNear), "tooFewNear")]
[JsonDerivedType(typeof(TooFewOfPage), "tooFewOfPage")]
[JsonDerivedType(typeof(NeverDue), "neverDue")]
[JsonDerivedType(typeof(HeldByPage), "heldByPage")]
[JsonDerivedType(typeof(NoRoom), "noRoom")]
[JsonDerivedType(typeof(NoPlace), "noPlace")]
[JsonDerivedType(typeof(WordingFailed), "wordingFailed")]
[JsonDerivedType(typeof(NoLauncher), "noLauncher")]
[JsonDerivedType(typeof(OtherLauncher), "otherLauncher")]
[JsonDerivedType(typeof(ClosedForNow), "closedForNow")]
[JsonDerivedType(typeof(RungAbove), "rungAbove")]
[JsonDerivedType(typeof(OpenOtherwise), "openOtherwise")]
[JsonDerivedType(typeof(GreetedEnough), "greetedEnough")]
public abstract record Reason;

/// <summary>A reason that came about on the page; its times are milliseconds of visible time since the page view began.</summary>
public abstract record OnPageReason : Reason
{
    /// <summary>Whether the tab was out of sight for a while before, so that the clock on the wall shows later times.</summary>
    public bool TabWasHidden { get; init; }
}

/// <summary>A reason that lies in what there is to tell.</summary>
internal interface IEvidenceReason;

/// <summary>The whole site is silenced.</summary>
public sealed record SiteOffAir : Reason;

/// <summary>The callout is not live.</summary>
public sealed record NotLive(DefinitionState State) : Reason;

/// <summary>An exclude of its own names the page.</summary>
public sealed record PageExcluded(string Pattern) : Reason;

/// <summary>None of its includes names the page.</summary>
public sealed record PageNotIncluded(int Includes) : Reason;

/// <summary>Nobody looked lately at any page that it is for, so there is none to rehearse it on.</summary>
public sealed record NoPageSeen : Reason;

/// <summary>A house rule keeps the page quiet.</summary>
public sealed record QuietPage(string Pattern) : Reason;

/// <summary>Its dates or hours do not take in this moment.</summary>
public sealed record OutsideSchedule(ScheduleLimit Limit) : Reason;

/// <summary>It is hidden on this sort of device.</summary>
public sealed record DeviceLeftOut(Device Device) : Reason;

/// <summary>A comparison decided against the visitor.</summary>
public sealed record VisitorDiffers(FailedTest Failed) : Reason;

/// <summary>House rules show something only to visitors who agreed, and this one has not.</summary>
public sealed record NoConsent : Reason;

/// <summary>It runs only while somebody of the team is there, and nobody is.</summary>
public sealed record NobodyAvailable : Reason;

/// <summary>It asks for what this visitor has given already.</summary>
public sealed record AlreadyGave : Reason;

/// <summary>It asks by a promise that this visitor took back.</summary>
public sealed record TookPromiseBack : Reason;

/// <summary>The codes that it gives have run out, and it stays away then.</summary>
public sealed record NoCodesLeft : Reason;

/// <summary>The visitor closed it, and it stays away after that.</summary>
/// <param name="Until">Until when; null for good.</param>
public sealed record ClosedBefore(Instant? Until) : Reason;

/// <summary>The visitor did what it asks for, and it stays away after that.</summary>
/// <param name="At">When that was.</param>
/// <param name="Until">Until when it stays away; null for good.</param>
public sealed record Succeeded(Instant At, Instant? Until) : Reason;

/// <summary>The visitor is among those who are deliberately shown nothing of it, so that its effect can be measured.</summary>
public sealed record HeldBack(int Percent) : Reason;

/// <summary>A callout of the same kind that is more particular to the page takes its place.</summary>
public sealed record Replaced(Guid By) : Reason;

/// <summary>Nothing is running low.</summary>
/// <param name="MostLeft">The most that may be left before it is said.</param>
/// <param name="Lowest">The lowest level known that is not zero; null when none is known.</param>
public sealed record NothingLow(int MostLeft, int? Lowest) : Reason, IEvidenceReason;

/// <summary>Enough has happened, but too little of it where the visitor is.</summary>
/// <param name="Needs">Least number.</param>
/// <param name="Has">How many there are.</param>
/// <param name="Place">The visitor's country or region; empty when unknown.</param>
public sealed record TooFewNear(int Needs, int Has, string Place) : Reason, IEvidenceReason;

/// <summary>Enough has happened, but too little of it about this page's product.</summary>
public sealed record TooFewOfPage(int Needs, int Has) : Reason, IEvidenceReason;

/// <summary>What it waits for did not happen on this page.</summary>
/// <param name="Waits">The first trigger that did not hold.</param>
public sealed record NeverDue(Trigger Waits) : Reason;

/// <summary>It was due while the page's consent notice or something else of the page's own held everything up, until the page was left.</summary>
public sealed record HeldByPage(long DueMs, HoldKind Hold) : OnPageReason;

/// <summary>Its words cannot be said with what there is to tell.</summary>
/// <param name="Because">What is wrong with them, as a sentence.</param>
public sealed record WordingFailed(string Because) : Reason, IEvidenceReason;

/// <summary>There was no room for it on the screen beside what the page keeps there.</summary>
public sealed record NoRoom : Reason;

/// <summary>It stands in the page's own content, and its place there was not on this page when visitors looked at it.</summary>
/// <param name="Selector">The place.</param>
public sealed record NoPlace(string Selector) : Reason;

/// <summary>The visitor closed something and is left alone.</summary>
public sealed record Hushed(Instant Until) : Reason;

/// <summary>The visitor has met it as often as allowed.</summary>
public sealed record SeenOften(RepeatLimit Limit) : Reason;

/// <summary>Too little has happened to say anything.</summary>
public sealed record TooFewEvents(int Needs, int Has, int? WindowMinutes) : Reason, IEvidenceReason;

/// <summary>Enough has happened, but the visitor did too much of it.</summary>
public sealed record OnlyOwnEvents(int Needs, int Has, int Own) : Reason, IEvidenceReason;

/// <summary>It was due, but what stood in its way outlasted its patience. Milliseconds of visible time on the page.</summary>
/// <param name="DueMs">When it was due.</param>
/// <param name="GaveUpMs">When its patience ended.</param>
/// <param name="NextFreeMs">When it could have started, if that came before the page was left.</param>
/// <param name="Blocker">The callout on screen, or whose gap was running, when it was due.</param>
public sealed record NoFreeSlot(long DueMs, long GaveUpMs, long? NextFreeMs, Guid? Blocker) : OnPageReason;

/// <summary>The visit has had as many callouts as the house rules allow.</summary>
public sealed record BudgetSpent(int Started, int Allowed) : Reason;

/// <summary>The visitor left the page before it was due or had its turn. Milliseconds of visible time.</summary>
public sealed record LeftBefore(long DueMs, long StayedMs) : OnPageReason;

/// <summary>A greeting's launcher does not stand on the page.</summary>
/// <param name="Launcher">The launcher.</param>
/// <param name="Because">Why not.</param>
public sealed record NoLauncher(Guid Launcher, Reason Because) : Reason;

/// <summary>At most one launcher stands on a page, and there it is another.</summary>
/// <param name="By">That one.</param>
public sealed record OtherLauncher(Guid By) : Reason;

/// <summary>A launcher that is not there while it is closed.</summary>
/// <param name="OpensAt">When it opens next; null when that is not known.</param>
public sealed record ClosedForNow(Instant? OpensAt) : Reason;

/// <summary>A rung higher on the ladder is the one for this page view.</summary>
/// <param name="Rung">Its number, from 1.</param>
/// <param name="Greeting">Its greeting.</param>
public sealed record RungAbove(int Rung, Guid Greeting) : Reason;

/// <summary>The visit has had as many greetings as the launcher gives.</summary>
/// <param name="Seen">How many.</param>
/// <param name="Allowed">How many it gives.</param>
public sealed record GreetedEnough(int Seen, int Allowed) : Reason;

/// <summary>A greeting for when its launcher is open, or closed, and it is the other.</summary>
/// <param name="WantsOpen">Whether it greets while open.</param>
public sealed record OpenOtherwise(bool WantsOpen) : Reason;
