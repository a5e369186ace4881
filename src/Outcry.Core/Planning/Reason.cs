using System.Text.Json.Serialization;
using NodaTime;
using Outcry.Core.Timing;

namespace Outcry.Core.Planning;

/// <summary>Why a callout was not shown, with the figures that decided it.</summary>
[JsonPolymorphic(TypeDiscriminatorPropertyName = "kind")]
[JsonDerivedType(typeof(SiteOffAir), "siteOffAir")]
[JsonDerivedType(typeof(NotLive), "notLive")]
[JsonDerivedType(typeof(PageExcluded), "pageExcluded")]
[JsonDerivedType(typeof(PageNotIncluded), "pageNotIncluded")]
[JsonDerivedType(typeof(QuietPage), "quietPage")]
[JsonDerivedType(typeof(Hushed), "hushed")]
[JsonDerivedType(typeof(SeenOften), "seenOften")]
[JsonDerivedType(typeof(TooFewEvents), "tooFewEvents")]
[JsonDerivedType(typeof(OnlyOwnEvents), "onlyOwnEvents")]
[JsonDerivedType(typeof(NoFreeSlot), "noFreeSlot")]
[JsonDerivedType(typeof(BudgetSpent), "budgetSpent")]
[JsonDerivedType(typeof(LeftBefore), "leftBefore")]
public abstract record Reason;

/// <summary>The whole site is silenced.</summary>
public sealed record SiteOffAir : Reason;

/// <summary>The callout is not live.</summary>
public sealed record NotLive(CalloutState State) : Reason;

/// <summary>An exclude of its own names the page.</summary>
public sealed record PageExcluded(string Pattern) : Reason;

/// <summary>None of its includes names the page.</summary>
public sealed record PageNotIncluded(int Includes) : Reason;

/// <summary>A house rule keeps the page quiet.</summary>
public sealed record QuietPage(string Pattern) : Reason;

/// <summary>The visitor closed something and is left alone.</summary>
public sealed record Hushed(Instant Until) : Reason;

/// <summary>The visitor has met it as often as allowed.</summary>
public sealed record SeenOften(RepeatLimit Limit) : Reason;

/// <summary>Too little has happened to say anything.</summary>
public sealed record TooFewEvents(int Needs, int Has, int? WindowMinutes) : Reason;

/// <summary>Enough has happened, but the visitor did too much of it.</summary>
public sealed record OnlyOwnEvents(int Needs, int Has, int Own) : Reason;

/// <summary>It was due, but what stood in its way outlasted its patience. Milliseconds of visible time on the page.</summary>
/// <param name="DueMs">When it was due.</param>
/// <param name="GaveUpMs">When its patience ended.</param>
/// <param name="NextFreeMs">When it could have started, if that came before the page was left.</param>
/// <param name="Blocker">The callout on screen, or whose gap was running, when it was due.</param>
public sealed record NoFreeSlot(long DueMs, long GaveUpMs, long? NextFreeMs, Guid? Blocker) : Reason;

/// <summary>The visit has had as many callouts as the house rules allow.</summary>
public sealed record BudgetSpent(int Started, int Allowed) : Reason;

/// <summary>The visitor left the page before it was due or had its turn. Milliseconds of visible time.</summary>
public sealed record LeftBefore(long DueMs, long StayedMs) : Reason;
