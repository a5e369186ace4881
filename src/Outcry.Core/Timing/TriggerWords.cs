namespace Outcry.Core.Timing;

/// <summary>Says what a trigger waits for.</summary>
public static class TriggerWords
{
    /// <summary>What the visitor has to do, after "did not": "scroll to 50 %".</summary>
    public static string Did(Trigger trigger) =>
        trigger.Kind switch
        {
            TriggerKind.Seconds => $"stay for {trigger.Number} s",
            TriggerKind.Idle => $"rest for {trigger.Number} s",
            TriggerKind.Scroll => $"scroll to {trigger.Number} %",
            TriggerKind.InView => $"bring {trigger.Target} into view",
            TriggerKind.Leaving => "turn to leave",
            TriggerKind.Click when trigger.Target.StartsWith("[data-outcry-ask=", StringComparison.Ordinal) =>
                "press the button marked for it",
            TriggerKind.Click => $"click {trigger.Target}",
            TriggerKind.VideoEnd => "see a video to its end",
            TriggerKind.PageEvent => $"do what sends \"{trigger.Target}\"",
            TriggerKind.Pages => $"look at {trigger.Number} pages in this visit",
            _ => throw new ArgumentOutOfRangeException(nameof(trigger), trigger.Kind, null),
        };
}
