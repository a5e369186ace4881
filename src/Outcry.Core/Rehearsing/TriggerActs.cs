using Outcry.Core.Evidence;
using Outcry.Core.Explaining;
using Outcry.Core.Performing;
using Outcry.Core.Timing;

namespace Outcry.Core.Rehearsing;

/// <summary>What a visitor does so that a callout becomes due: a rehearsal of one callout would else only tell what did not happen.</summary>
/// <param name="Acts">What is done, in order.</param>
/// <param name="PagesBefore">Pages looked at before in the visit.</param>
/// <param name="Words">The same in words, after "to": "scroll to 50 % at 0:10".</param>
public sealed record TriggerActs(IReadOnlyList<Act> Acts, int PagesBefore, IReadOnlyList<string> Words)
{
    /// <summary>Nothing is done.</summary>
    public static TriggerActs None { get; } = new([], 0, []);

    /// <summary>When it is done: late enough to be noticed, early enough to leave room for what comes of it.</summary>
    public const long AtMs = 10_000;

    /// <summary>What triggers wait for beside time, rest and turning to leave, which every reading has.</summary>
    /// <param name="triggers">What has to happen.</param>
    /// <param name="join">Whether all of it, or any; of several that are each enough the first is done, none where time is enough.</param>
    public static TriggerActs For(IReadOnlyList<Trigger> triggers, Join join)
    {
        var waits = triggers.Where(t => t.Kind == TriggerKind.Pages || ActFor(t) is not null).ToList();
        if (join == Join.Any)
            waits = waits.Count < triggers.Count ? [] : waits[..Math.Min(1, waits.Count)];
        return new TriggerActs(
            [.. waits.Select(ActFor).OfType<Act>()],
            waits.Where(t => t.Kind == TriggerKind.Pages).Select(t => t.Number - 1).DefaultIfEmpty(0).Max(),
            [.. waits.Select(Say)]
        );
    }

    private static Act? ActFor(Trigger trigger) =>
        trigger.Kind switch
        {
            TriggerKind.Scroll => new Act(AtMs, ActKind.Scroll, Number: trigger.Number),
            TriggerKind.InView => new Act(AtMs, ActKind.See, Target: trigger.Target),
            TriggerKind.Click => new Act(AtMs, ActKind.ClickElement, Target: trigger.Target),
            TriggerKind.VideoEnd => new Act(AtMs, ActKind.VideoEnds, Target: trigger.Target),
            TriggerKind.PageEvent => new Act(AtMs, ActKind.PageEvent, Target: trigger.Target),
            _ => null,
        };

    private static string Say(Trigger trigger) =>
        trigger.Kind == TriggerKind.Pages
            ? TriggerWords.Did(trigger)
            : $"{TriggerWords.Did(trigger)} at {ReasonSentence.Clock(AtMs)}";
}
