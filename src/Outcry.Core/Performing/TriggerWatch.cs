using Outcry.Core.Evidence;
using Outcry.Core.Timing;

namespace Outcry.Core.Performing;

/// <summary>Remembers which of a callout's triggers have held. One that has held once on a page view stays so.</summary>
internal sealed class TriggerWatch(IReadOnlyList<Trigger> triggers, Join join)
{
    private const long Never = long.MaxValue;

    // A trigger a bit; a brief has far fewer than 64.
    private ulong _held;

    /// <summary>Whether what has held is enough.</summary>
    public bool Holds => triggers.Count == 0 || (join == Join.Any ? _held != 0 : _held == (1UL << triggers.Count) - 1);

    /// <summary>Lets an act count.</summary>
    /// <param name="act">The act.</param>
    /// <param name="leaves">Whether it is a sign of leaving here and now.</param>
    /// <returns>Whether a click trigger was met by it.</returns>
    public bool Take(Act act, bool leaves)
    {
        var clicked = false;
        for (var i = 0; i < triggers.Count; i++)
        {
            if (!Meets(triggers[i], act, leaves))
                continue;
            _held |= 1UL << i;
            clicked |= triggers[i].Kind == TriggerKind.Click;
        }
        return clicked;
    }

    /// <summary>Lets time count.</summary>
    /// <param name="waitedMs">Visible time since waits began.</param>
    /// <param name="idleMs">Visible time without the visitor doing anything.</param>
    public void Wait(long waitedMs, long idleMs)
    {
        for (var i = 0; i < triggers.Count; i++)
            if (LeftOf(triggers[i], waitedMs, idleMs) <= 0)
                _held |= 1UL << i;
    }

    /// <summary>Milliseconds of waiting until the next of its times is reached; never when there is none.</summary>
    public long NextMs(long waitedMs, long idleMs)
    {
        if (Holds)
            return 0;
        var next = Never;
        for (var i = 0; i < triggers.Count; i++)
            if ((_held & (1UL << i)) == 0)
                next = Math.Min(next, LeftOf(triggers[i], waitedMs, idleMs));
        return next;
    }

    /// <summary>Waits begin again: what time alone had brought has not held; what the visitor did has.</summary>
    public void RestartWaits()
    {
        for (var i = 0; i < triggers.Count; i++)
            if (triggers[i].Kind is TriggerKind.Seconds or TriggerKind.Idle)
                _held &= ~(1UL << i);
    }

    /// <summary>Forgets clicks, so that the next one counts anew.</summary>
    public void ForgetClicks()
    {
        for (var i = 0; i < triggers.Count; i++)
            if (triggers[i].Kind == TriggerKind.Click)
                _held &= ~(1UL << i);
    }

    /// <summary>The first trigger that stood in the way; null when only time did.</summary>
    public Trigger? FirstMissing()
    {
        if (join == Join.Any && triggers.Any(t => t.Kind == TriggerKind.Seconds))
            return null;
        for (var i = 0; i < triggers.Count; i++)
            if ((_held & (1UL << i)) == 0 && triggers[i].Kind != TriggerKind.Seconds)
                return triggers[i];
        return null;
    }

    /// <summary>Visible milliseconds from the beginning of waits until time alone is through with it.</summary>
    public long TimedMs
    {
        get
        {
            var timed = triggers.Where(t => t.Kind == TriggerKind.Seconds).Select(t => t.Number * 1000L).ToList();
            return timed.Count == 0 ? 0
                : join == Join.All ? timed.Max()
                : timed.Min();
        }
    }

    private static long LeftOf(Trigger trigger, long waitedMs, long idleMs) =>
        trigger.Kind switch
        {
            TriggerKind.Seconds => trigger.Number * 1000L - waitedMs,
            TriggerKind.Idle => trigger.Number * 1000L - Math.Min(idleMs, waitedMs),
            _ => Never,
        };

    private static bool Meets(Trigger trigger, Act act, bool leaves) =>
        trigger.Kind switch
        {
            TriggerKind.Leaving => leaves,
            TriggerKind.Scroll => act.Kind == ActKind.Scroll && act.Number >= trigger.Number,
            TriggerKind.InView => act.Kind == ActKind.See && act.Target == trigger.Target,
            TriggerKind.Click => act.Kind == ActKind.ClickElement && act.Target == trigger.Target,
            TriggerKind.VideoEnd => act.Kind == ActKind.VideoEnds
                && (trigger.Target.Length == 0 || act.Target == trigger.Target),
            TriggerKind.PageEvent => act.Kind == ActKind.PageEvent && act.Target == trigger.Target,
            _ => false,
        };
}
