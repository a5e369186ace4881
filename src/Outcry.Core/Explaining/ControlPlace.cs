namespace Outcry.Core.Explaining;

/// <summary>Where at the desk a reason can be changed.</summary>
public enum ControlPlace
{
    /// <summary>The brief's facet: Say.</summary>
    Say,

    /// <summary>From.</summary>
    From,

    /// <summary>What a prompt asks for, promises and gives.</summary>
    After,

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
