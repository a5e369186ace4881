using System.Diagnostics;
using System.Globalization;
using System.Text.Json;
using NodaTime;
using Outcry.Core.Evidence;
using Outcry.Core.Performing;
using Outcry.Core.Publishing;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using Outcry.Tests.Shared;
using static Outcry.Core.Tests.Samples;

namespace Outcry.Core.Tests;

/// <summary>Random page views, played by the rehearsal and by the snippet's own queue: both must come to the same, to the millisecond.</summary>
public sealed class RandomQueueTests
{
    private const int InShort = 5_000;
    private const int InLong = 200_000;
    private const int Batch = 250;

    private static readonly string[] Elements = ["#more", "#other"];

    [Fact]
    public async Task The_rehearsal_and_the_snippet_play_random_page_views_alike()
    {
        var stop = TestContext.Current.CancellationToken;
        var number = Environment.GetEnvironmentVariable("OUTCRY_LONG") == "1" ? InLong : Cases.Of(InShort);
        var seed = int.Parse(Environment.GetEnvironmentVariable("OUTCRY_SEED") ?? "7", CultureInfo.InvariantCulture);
        using var snippet = Start();
        var chance = new Random(seed);
        var (played, shown) = (0, 0);
        while (played < number)
        {
            var views = Enumerable.Range(0, Batch).Select(_ => RandomView.Make(chance)).ToList();
            // Written from another task, since either side would wait for the other once its pipe is full.
            var writing = Task.Run(
                async () =>
                {
                    foreach (var view in views)
                        await snippet.StandardInput.WriteLineAsync(view.ToJson().AsMemory(), stop);
                    await snippet.StandardInput.FlushAsync(stop);
                },
                stop
            );
            foreach (var view in views)
            {
                var line = await snippet.StandardOutput.ReadLineAsync(stop);
                Assert.False(line is null, "The snippet's queue broke off.");
                var expected = view.Rehearse();
                var browser = view.Read(line!);
                Assert.True(
                    expected.SequenceEqual(browser),
                    $"View {played} of seed {seed}\n{view.ToJson()}\nrehearsal:\n{string.Join('\n', expected)}\nsnippet:\n{string.Join('\n', browser)}"
                );
                played++;
                shown += expected.Count;
            }
            await writing;
        }
        // Views on which nothing happens would agree as well.
        Assert.True(shown > 2 * number, $"{shown} showings");
        snippet.StandardInput.Close();
        await snippet.WaitForExitAsync(stop);
    }

    private static Process Start()
    {
        var root = Path.GetDirectoryName(Path.GetDirectoryName(Scenario.Folder()))!;
        return Process.Start(
                new ProcessStartInfo("node", "test/runQueues.mjs")
                {
                    WorkingDirectory = Path.Combine(root, "web", "embed"),
                    RedirectStandardInput = true,
                    RedirectStandardOutput = true,
                }
            ) ?? throw new InvalidOperationException("node did not start.");
    }

    /// <summary>One page view with all that decides how it goes.</summary>
    private sealed record RandomView(QueueEntry[] Cues, HouseRules Rules, PageStart Start, Act[] Acts, long StayMs)
    {
        private static readonly JsonSerializerOptions Web = new(JsonSerializerDefaults.Web)
        {
            DefaultIgnoreCondition = System.Text.Json.Serialization.JsonIgnoreCondition.WhenWritingNull,
        };

        public static RandomView Make(Random chance)
        {
            var cues = Enumerable.Range(0, chance.Next(1, 8)).Select(order => MakeCue(chance, order)).ToArray();
            var rules = HouseRules.Start with
            {
                MostAtOnce = chance.Next(1, 4),
                GapSeconds = chance.Next(0, 15),
                MostPerVisit = chance.Next(1, 7),
            };
            var start = new PageStart(
                chance.Next(0, 3),
                chance.Next(3) == 0 ? chance.Next(0, 20_000) : null,
                chance.Next(6) == 0 ? chance.Next(0, 60_000) : 0,
                chance.Next(6) == 0 ? chance.Next(0, 60_000) : 0,
                Now
            )
            {
                IsTouch = chance.Next(2) == 0,
            };
            var stayMs = chance.Next(1, 200) * 1000L;
            var acts = Enumerable.Range(0, chance.Next(0, 16)).SelectMany(_ => MakeActs(chance, cues, stayMs));
            return new RandomView(cues, rules, start, [.. acts.OrderBy(a => a.AtMs)], stayMs);
        }

        private static QueueEntry MakeCue(Random chance, int order)
        {
            var triggers = Enumerable.Range(0, chance.Next(0, 3)).Select(_ => MakeTrigger(chance)).ToList();
            if (triggers.Count == 0)
                triggers.Add(Trigger.After(chance.Next(0, 40)));
            var kind = chance.Next(5) switch
            {
                0 => CalloutClass.Dialog,
                1 => CalloutClass.Inset,
                _ => CalloutClass.Floating,
            };
            return new QueueEntry(
                new Guid(order, 0, 0, new byte[8]),
                kind,
                chance.Next(1, 4),
                order,
                triggers,
                chance.Next(2) == 0 ? Join.All : Join.Any,
                [
                    .. Enumerable
                        .Range(0, chance.Next(1, 4))
                        .Select(_ => chance.Next(6) == 0 ? (long?)null : chance.Next(1, 20) * 1000L),
                ],
                chance.Next(1, 15) * 1000L,
                chance.Next(2) == 0 ? 30_000 : 86_400_000,
                20_000
            )
            {
                Rounds = chance.Next(4) == 0 ? chance.Next(0, 3) : 1,
                OpensPanel = kind == CalloutClass.Floating && chance.Next(6) == 0,
                AskedOnly = triggers.Any(t => t.Kind == TriggerKind.Click) && chance.Next(3) == 0,
                Over =
                    chance.Next(6) == 0
                        ? new ScheduleEnd(chance.Next(1, 120_000), new ScheduleLimit(ScheduleSide.Over, Now))
                        : null,
            };
        }

        private static Trigger MakeTrigger(Random chance) =>
            chance.Next(9) switch
            {
                0 or 1 => Trigger.After(chance.Next(0, 40)),
                2 => new Trigger(TriggerKind.Idle, chance.Next(1, 20)),
                3 => new Trigger(TriggerKind.Scroll, 10 * chance.Next(1, 10)),
                4 => new Trigger(TriggerKind.InView, 0, Elements[chance.Next(2)]),
                5 => new Trigger(TriggerKind.Leaving),
                6 => new Trigger(TriggerKind.VideoEnd, 0, chance.Next(2) == 0 ? "" : Elements[0]),
                7 => new Trigger(TriggerKind.PageEvent, 0, "added"),
                _ => new Trigger(TriggerKind.Click, 0, Elements[chance.Next(2)]),
            };

        private static IEnumerable<Act> MakeActs(Random chance, QueueEntry[] cues, long stayMs)
        {
            var at = chance.NextInt64(0, stayMs + 1);
            var later = Math.Min(stayMs, at + chance.Next(1, 30_000));
            var (whose, element) = (cues[chance.Next(cues.Length)].Id, Elements[chance.Next(2)]);
            var hold = (HoldKind)chance.Next(3);
            return chance.Next(14) switch
            {
                0 or 1 => [new Act(at, ActKind.Close, whose)],
                2 => [new Act(at, ActKind.Click, whose)],
                3 => [new Act(at, ActKind.Hover, whose), new Act(later, ActKind.Leave, whose)],
                4 => [new Act(at, ActKind.Scroll, Number: chance.Next(0, 101))],
                5 => [new Act(at, ActKind.See, Target: element)],
                6 => [new Act(at, ActKind.ClickElement, Target: element)],
                7 => [new Act(at, ActKind.PageEvent, Target: "added")],
                8 => [new Act(at, ActKind.PointerOut), new Act(later, ActKind.FlickUp)],
                9 => [new Act(at, ActKind.HoldOpens, Hold: hold), new Act(later, ActKind.HoldCloses, Hold: hold)],
                10 => [new Act(at, ActKind.Hide), new Act(later, ActKind.Return)],
                11 => [new Act(at, ActKind.VideoEnds, Target: element)],
                12 => [new Act(at, ActKind.Show, whose)],
                _ => [new Act(at, ActKind.Move)],
            };
        }

        /// <summary>What the rehearsal comes to.</summary>
        public List<string> Rehearse() =>
            Sorted(
                DisplayQueue
                    .Play(Cues, Rules, Start, Acts, StayMs)
                    .Showings.Select(s => Line(s.Callout, s.Turn, s.StartMs, s.EndMs, s.EndedBy, s.IsAsked))
            );

        /// <summary>What the snippet's queue came to, in the same words.</summary>
        public List<string> Read(string json)
        {
            var lines = new List<string>();
            var open = new Dictionary<Guid, (int Turn, long At, bool Asked)>();
            foreach (var told in JsonSerializer.Deserialize<JsonElement[]>(json)!)
            {
                var (id, turn, at) = (told[1].GetGuid(), told[2].GetInt32(), told[3].GetInt64());
                if (told[0].GetString() == "start")
                {
                    Assert.True(open.TryAdd(id, (turn, at, told[4].GetBoolean())), "Started twice.");
                    continue;
                }
                Assert.True(open.Remove(id, out var began) && began.Turn == turn, "Ended without a start.");
                var by = Enum.Parse<EndedBy>(told[4].GetString()!, ignoreCase: true);
                lines.Add(Line(id, turn, began.At, at, by, began.Asked));
            }
            lines.AddRange(
                open.Select(o => Line(o.Key, o.Value.Turn, o.Value.At, StayMs, EndedBy.PageLeft, o.Value.Asked))
            );
            return Sorted(lines);
        }

        private static string Line(Guid id, int turn, long start, long end, EndedBy by, bool asked) =>
            string.Create(
                CultureInfo.InvariantCulture,
                $"{id.ToString()[7]}{turn + 1} {start, 7} to {end, 7} {by}{(asked ? " asked" : "")}"
            );

        private static List<string> Sorted(IEnumerable<string> lines) => [.. lines.Order(StringComparer.Ordinal)];

        /// <summary>The page view as the snippet's queue is given it.</summary>
        public string ToJson() =>
            JsonSerializer.Serialize(
                new
                {
                    cues = Cues.Select(c => new
                    {
                        id = c.Id,
                        shape = c.Class switch
                        {
                            CalloutClass.Dialog => "Poster",
                            CalloutClass.Inset => "Inset",
                            _ => "Slip",
                        },
                        priority = c.Priority,
                        triggers = c.Triggers.Select(t => new
                        {
                            k = t.Kind.ToString(),
                            n = t.Number,
                            t = t.Target,
                        }),
                        any = c.Join == Join.Any,
                        turnGapMs = c.TurnGapMs,
                        rounds = c.Rounds,
                        hushMs = c.HushMs,
                        asked = c.AskedOnly,
                        opens = c.OpensPanel,
                        turns = c.StaysMs.Select(s => new { spans = Array.Empty<object>(), stayMs = s }),
                    }),
                    rules = new
                    {
                        atOnce = Rules.MostAtOnce,
                        gapMs = Rules.GapSeconds * 1000,
                        mostPerVisit = Rules.MostPerVisit,
                        patienceMs = Rules.PatienceSeconds * 1000,
                    },
                    visit = new
                    {
                        starts = Start.Starts,
                        sinceLastEndMs = Start.SinceLastEndMs,
                        hushLeftMs = Start.HushLeftMs,
                        dialogHushLeftMs = Start.DialogHushLeftMs,
                    },
                    touch = Start.IsTouch,
                    stayMs = StayMs,
                    acts = Cues.Where(c => c.Over is not null)
                        .Select(c => new Act(c.Over!.Value.AtMs, ActKind.Over, c.Id))
                        .Concat(Acts)
                        .OrderBy(a => a.AtMs)
                        .Select(ToJson),
                },
                Web
            );

        private static object ToJson(Act act) =>
            act.Kind switch
            {
                ActKind.Close or ActKind.Click or ActKind.Hover or ActKind.Leave or ActKind.Over => new
                {
                    at = act.AtMs,
                    k = act.Kind.ToString().ToLowerInvariant(),
                    id = act.Callout,
                },
                ActKind.HoldOpens or ActKind.HoldCloses => new
                {
                    at = act.AtMs,
                    k = "hold",
                    what = act.Hold.ToString().ToLowerInvariant(),
                    open = act.Kind == ActKind.HoldOpens,
                },
                ActKind.See => new
                {
                    at = act.AtMs,
                    k = "InView",
                    t = act.Target,
                },
                ActKind.ClickElement => new
                {
                    at = act.AtMs,
                    k = "Click",
                    t = act.Target,
                },
                ActKind.VideoEnds => new
                {
                    at = act.AtMs,
                    k = "VideoEnd",
                    t = act.Target,
                },
                ActKind.PageEvent => new
                {
                    at = act.AtMs,
                    k = "PageEvent",
                    t = act.Target,
                },
                ActKind.Show => new
                {
                    at = act.AtMs,
                    k = "PageEvent",
                    t = act.Callout!.Value.ToString(),
                },
                ActKind.Scroll => new
                {
                    at = act.AtMs,
                    k = "Scroll",
                    n = act.Number,
                },
                _ => (object)new { at = act.AtMs, k = act.Kind.ToString() },
            };
    }
}
