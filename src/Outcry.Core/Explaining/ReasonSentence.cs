using System.Globalization;
using NodaTime;

namespace Outcry.Core.Explaining;

/// <summary>Says a reason as one plain sentence.</summary>
public static class ReasonSentence
{
    /// <summary>The sentence.</summary>
    /// <param name="reason">The reason.</param>
    /// <param name="zone">The site's time zone, in which times are said.</param>
    /// <param name="nameOf">Names callouts; may return null for one that is gone.</param>
    public static string Say(Reason reason, DateTimeZone zone, Func<Guid, string?> nameOf) =>
        ReasonCatalogue.SentenceOf(reason, new ReasonSetting(zone, nameOf))
        + (reason is OnPageReason { TabWasHidden: true } ? " Only time with the tab in view counts." : "");

    /// <summary>Milliseconds on a page as "0:06" or "1:04".</summary>
    public static string Clock(long ms)
    {
        var seconds = ms / 1000;
        return string.Create(CultureInfo.InvariantCulture, $"{seconds / 60}:{seconds % 60:00}");
    }
}
