using Outcry.Core.Timing;

namespace Outcry.Core.Planning;

/// <summary>Where at the desk a reason can be changed.</summary>
public enum ControlPlace
{
    /// <summary>The brief's facet: Say.</summary>
    Say,

    /// <summary>From.</summary>
    From,

    /// <summary>Where.</summary>
    Where,

    /// <summary>Who.</summary>
    Who,

    /// <summary>When.</summary>
    When,

    /// <summary>How often, with priority and holdback.</summary>
    HowOften,

    /// <summary>Look.</summary>
    Look,

    /// <summary>The house rules.</summary>
    HouseRules,

    /// <summary>Publishing, pausing and resuming.</summary>
    State,

    /// <summary>The switch by which the whole site is off air.</summary>
    OffAir,

    /// <summary>The run sheet, where whatever stood in the way stands too.</summary>
    RunSheet,

    /// <summary>Nowhere: it lies with the page or the visitor.</summary>
    Nowhere,
}

/// <summary>Names the control that changes a reason.</summary>
public static class ReasonControl
{
    /// <summary>The control.</summary>
    public static ControlPlace Of(Reason reason) =>
        reason switch
        {
            SiteOffAir => ControlPlace.OffAir,
            NotLive => ControlPlace.State,
            PageExcluded or PageNotIncluded or Replaced => ControlPlace.Where,
            QuietPage or NoConsent or BudgetSpent => ControlPlace.HouseRules,
            OutsideSchedule or NeverDue or LeftBefore or NobodyAvailable => ControlPlace.When,
            DeviceLeftOut or VisitorDiffers => ControlPlace.Who,
            ClosedBefore or Succeeded or HeldBack or SeenOften or Hushed => ControlPlace.HowOften,
            NothingLow or TooFewNear or TooFewOfPage or TooFewEvents or OnlyOwnEvents => ControlPlace.From,
            NoFreeSlot => ControlPlace.RunSheet,
            NoRoom or NoPlace => ControlPlace.Look,
            WordingFailed => ControlPlace.Say,
            _ => ControlPlace.Nowhere,
        };

    /// <summary>How likely a reason is the one that matters to somebody who wonders: what silences everything first, what lies with one visitor last.</summary>
    /// <returns>0 for the likeliest.</returns>
    public static int Rank(Reason reason) =>
        reason switch
        {
            SiteOffAir => 0,
            NotLive => 1,
            OutsideSchedule { Limit.Side: not ScheduleSide.OtherHours } => 2,
            IEvidenceReason => 3,
            NoFreeSlot or BudgetSpent or NoPlace => 4,
            OutsideSchedule or NobodyAvailable or Replaced or QuietPage => 5,
            VisitorDiffers or DeviceLeftOut or NoConsent => 6,
            NeverDue or LeftBefore => 7,
            PageExcluded or PageNotIncluded => 9,
            _ => 8,
        };
}
