using NodaTime;
using Outcry.Core.Briefs;
using Outcry.Core.Evidence;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;

namespace Outcry.Core.Greetings;

/// <summary>Whether a team is there, and until when or from when.</summary>
/// <param name="IsOpen">Whether it is open now.</param>
/// <param name="OpensAt">When it opens next; null while open, and where that is not known.</param>
/// <param name="ClosesAt">When it closes; null while closed, and where it never does.</param>
public sealed record Availability(bool IsOpen, Instant? OpensAt, Instant? ClosesAt);

/// <summary>A launcher compiled for planning: patterns, rules, hours and words parsed.</summary>
public sealed class Launcher
{
    private static readonly DueFacet Always = new([], Join.All, Schedule.Always, OnlyIfAvailable: false);
    private static readonly HowOftenFacet Unlimited = new(
        RepeatUnit.PageView,
        1,
        null,
        null,
        UntilClicked: false,
        0,
        Pause.None,
        [],
        Pause.None
    );

    private readonly Dictionary<Guid, OpeningTimes> _own;
    private readonly MessageTemplate[] _greetings;
    private readonly MessageTemplate[] _closedGreetings;
    private readonly string _siteLanguage;

    /// <summary>Compiles a brief that <see cref="LauncherCheck"/> has nothing against.</summary>
    /// <exception cref="FormatException">A part of it is not valid after all, or a shared piece it names is gone.</exception>
    public Launcher(Definition definition, LauncherBrief brief, SiteContext context)
    {
        Brief = brief;
        Targeting = new CompiledTargeting(definition, TargetingOf(brief), context);
        Times = new OpeningTimes(brief.Hours);
        Ink = Contrast.InkOn(brief.Look.Ground);
        _siteLanguage = context.Language;
        _own = brief.Channels.Where(c => c.Hours == ChannelHours.Own).ToDictionary(c => c.Id, c => Times.With(c.Week));
        _greetings = [.. brief.Words.Select(w => Parse(w.Greeting))];
        _closedGreetings =
        [
            .. brief.Words.Select(w => Parse(w.ClosedGreeting.Length > 0 ? w.ClosedGreeting : w.Greeting)),
        ];
        Greetings =
        [
            .. brief.Rungs.Select(
                (rung, i) =>
                    new Callout(
                        definition with
                        {
                            Id = rung.Id,
                            Name = NameOf(definition, i),
                        },
                        GreetingBrief.Of(rung, brief.Look),
                        context
                    )
                    {
                        Greets = new GreetingPlace(definition.Id, i + 1)
                        {
                            OpensPanel = rung.Does == GreetingAct.OpenPanel,
                            Sounds = rung.Sound,
                            Replies =
                            [
                                .. rung.Words.Select(w =>
                                    (w.Language.Length > 0 ? w.Language : context.Language, w.Replies)
                                ),
                            ],
                        },
                    }
            ),
        ];
    }

    /// <summary>The definition.</summary>
    public Definition Definition => Targeting.Definition;

    /// <summary>The launcher.</summary>
    public Guid Id => Definition.Id;

    /// <summary>The same as its author wrote it.</summary>
    public LauncherBrief Brief { get; }

    /// <summary>On which pages and for whom it stands, parsed.</summary>
    public CompiledTargeting Targeting { get; }

    /// <summary>When its team is there.</summary>
    public OpeningTimes Times { get; }

    /// <summary>Its greetings as callouts, in the order of the ladder.</summary>
    public IReadOnlyList<Callout> Greetings { get; }

    /// <summary>Colour of the words, chosen for contrast on the ground.</summary>
    public string Ink { get; }

    /// <summary>What a launcher's own place is asked by: it stands whenever its page and its visitor hold.</summary>
    public static Targeting.Targeting TargetingOf(LauncherBrief brief) =>
        new(brief.Where, brief.Who, Always, Unlimited, 0);

    /// <summary>Name of a greeting among the team: "Ask the studio, greeting 2".</summary>
    public static string NameOf(Definition launcher, int index) => $"{launcher.Name}, greeting {index + 1}";

    /// <summary>Whether the team is there.</summary>
    /// <param name="now">When.</param>
    /// <param name="team">Who is at the desk.</param>
    public Availability At(Instant now, TeamThere team)
    {
        var isInside = Times.IsInside(now);
        var isOpen = isInside && (!Brief.Hours.OnlyIfPresent || team.IsThere(Brief.GroupId));
        return new Availability(
            isOpen,
            // Inside its hours and nobody there: when somebody comes is not known.
            isInside ? null : Times.OpensAfter(now),
            isOpen ? Times.ClosesAfter(now) : null
        );
    }

    /// <summary>The channels that are offered, in order.</summary>
    /// <param name="now">When.</param>
    /// <param name="isOpen">Whether the team is there.</param>
    /// <param name="device">On what.</param>
    public IEnumerable<Channel> ChannelsAt(Instant now, bool isOpen, Device device) =>
        Brief.Channels.Where(c => !c.HiddenOn.Contains(device) && IsOffered(c, now, isOpen));

    /// <summary>A channel that leads elsewhere, if it is offered then; null where it is not, or not there any more.</summary>
    /// <param name="id">Which.</param>
    /// <param name="now">When.</param>
    /// <param name="isOpen">Whether the team is there.</param>
    public Channel? WayAt(Guid id, Instant now, bool isOpen) =>
        Brief.Channels.FirstOrDefault(c => c.Id == id && !c.IsWritten && IsOffered(c, now, isOpen));

    private bool IsOffered(Channel channel, Instant now, bool isOpen) =>
        channel.Hours switch
        {
            ChannelHours.Always => isOpen || Brief.Closed.TakesMessages || !channel.IsWritten,
            // What is written to a closed door is a message left there.
            ChannelHours.WhileOpen => isOpen || (channel.IsWritten && Brief.Closed.TakesMessages),
            _ => _own[channel.Id].IsInside(now),
        };

    /// <summary>When a channel with hours of its own, or with the launcher's, is offered until; null for no end in sight.</summary>
    public Instant? OfferedUntil(Channel channel, Instant now) =>
        channel.Hours switch
        {
            ChannelHours.Always => null,
            ChannelHours.WhileOpen => Times.ClosesAfter(now),
            _ => _own[channel.Id].ClosesAfter(now),
        };

    /// <summary>Its words for a reader: the longest match of a language the reader wants, else the site's own.</summary>
    /// <param name="readers">BCP 47 tags, the most wanted first.</param>
    /// <param name="isOpen">Whether the team is there.</param>
    public (string Language, LauncherWords Words, MessageTemplate Greeting) For(
        IReadOnlyList<string> readers,
        bool isOpen
    )
    {
        var languages = Brief.Words.Select(w => w.Language.Length > 0 ? w.Language : _siteLanguage).ToList();
        var chosen = readers.Count == 0 ? null : LanguageTag.Choose(readers, languages);
        var place = chosen is null ? 0 : languages.FindIndex(l => l.Equals(chosen, StringComparison.OrdinalIgnoreCase));
        return (languages[place], Brief.Words[place], (isOpen ? _greetings : _closedGreetings)[place]);
    }

    private static MessageTemplate Parse(string text) =>
        MessageTemplate.TryParse(text, out var error) ?? throw new FormatException(error);
}
