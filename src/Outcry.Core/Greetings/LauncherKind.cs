using Outcry.Core.Pages;
using Outcry.Core.Publishing;
using Outcry.Core.Targeting;
using Outcry.Core.Timing;
using Outcry.Core.Visitors;

namespace Outcry.Core.Greetings;

/// <summary>Launchers as a kind of definition: their check, their compilation, what they name.</summary>
public sealed class LauncherKind : DefinitionKind<LauncherBrief, Launcher>
{
    /// <summary>The word by which they are kept.</summary>
    public const string Launcher = "launcher";

    private const int MostOfOneList = 200;
    private const int LongestText = 2_000;

    /// <summary>The only one: it holds nothing.</summary>
    public static LauncherKind Instance { get; } = new();

    /// <inheritdoc/>
    public override string Noun => Launcher;

    /// <summary>Its colours, letters, corners and side; the logo speaks where no portrait does.</summary>
    public override LauncherBrief Dress(LauncherBrief content, BrandKit kit) =>
        content with
        {
            Look = content.Look with
            {
                Band = kit.Band,
                Ground = kit.Ground,
                Side = kit.OnRight ? Briefs.Side.Right : Briefs.Side.Left,
                Typeface = kit.Typeface,
                CornerPx = kit.CornerPx,
            },
            Speaker = content.Speaker is { Members: false, Portrait: "" }
                ? content.Speaker with
                {
                    Portrait = kit.Logo,
                }
                : content.Speaker,
        };

    /// <inheritdoc/>
    public override IReadOnlyList<Problem> Check(LauncherBrief content, CheckSetting setting) =>
        LauncherCheck.Problems(content, setting);

    /// <inheritdoc/>
    public override Launcher Compile(Definition definition, LauncherBrief content, SiteContext context) =>
        new(definition, content, context);

    /// <inheritdoc/>
    public override References ReferencesOf(LauncherBrief content) =>
        References.Join([
            Greetings.Launcher.TargetingOf(content).References,
            .. content.Rungs.Select(r => new Targeting.Targeting(r.Where, r.Who, r.When, r.HowOften, 0).References),
            new References(
                new HashSet<Guid>(),
                new HashSet<Guid>(),
                new HashSet<Guid>(),
                new[] { content.Look.PictureAddress, content.Speaker.Portrait }.Where(a => a.Length > 0).ToHashSet()
            ),
        ]);

    /// <summary>What its greetings wait to come into view.</summary>
    public override IEnumerable<string> PlacesOf(LauncherBrief content) =>
        content
            .Rungs.SelectMany(r => r.When.Triggers)
            .Where(t => t.Kind == TriggerKind.InView && t.Target.Length > 0)
            .Select(t => t.Target);

    /// <inheritdoc/>
    public override string? TooLarge(LauncherBrief content) =>
        content.Rungs.Count > MostOfOneList
        || content.Channels.Count > MostOfOneList
        || content.Words.Count > MostOfOneList
        || content.Hours.Closed.Count + content.Hours.Extra.Count > 2 * HoursCheck.MostDates
        || content.Hours.Week.Count > MostOfOneList
        || content.Rungs.Any(r =>
            r.Where.Includes.Count + r.Where.Excludes.Count > 500
            || r.When.Triggers.Count > MostOfOneList
            || r.Words.Count > MostOfOneList
            || r.Words.Any(w => w.Words.Length > LongestText || w.Replies.Count > MostOfOneList)
        )
            ? "The launcher is larger than any that could be published."
            : null;
}
