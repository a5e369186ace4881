namespace Outcry.Core.Timing;

/// <summary>Says units of time with their number.</summary>
public static class UnitWords
{
    /// <summary>"hour", "3 days", "2 weeks"; of units without a length their name.</summary>
    public static string Say(RepeatUnit unit, int number)
    {
        var name = unit switch
        {
            RepeatUnit.Hours => "hour",
            RepeatUnit.Days => "day",
            RepeatUnit.Weeks => "week",
            RepeatUnit.Months => "month",
            RepeatUnit.Visit => "visit",
            RepeatUnit.PageView => "page view",
            _ => "ever",
        };
        return number == 1 || name == "ever" ? name : $"{number} {name}s";
    }
}
