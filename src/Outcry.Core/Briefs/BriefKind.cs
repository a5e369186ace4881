using Outcry.Core.Asking;
using Outcry.Core.Publishing;
using Outcry.Core.Saying;
using Outcry.Core.Timing;

namespace Outcry.Core.Briefs;

/// <summary>Callouts as a kind of definition: their check, their compilation, what they name.</summary>
public sealed class BriefKind : DefinitionKind<Brief, Callout>
{
    /// <summary>The word by which they are kept.</summary>
    public const string Callout = "callout";

    private const int MostLanguages = 60;
    private const int MostOfOneList = 200;
    private const int LongestWording = 2_000;

    /// <summary>The only one: it holds nothing.</summary>
    public static BriefKind Instance { get; } = new();

    /// <inheritdoc/>
    public override string Noun => Callout;

    /// <inheritdoc/>
    public override IReadOnlyList<Problem> Check(Brief content, CheckSetting setting) =>
        [
            .. BriefCheck.Problems(content, setting.Sources, setting.Context, setting.Moment, setting.AllowsHost),
            .. content.Ask?.Reward is { Kind: RewardKind.Pool, SourceId: { } pool } reward && setting.IsPoolEmpty(pool)
                ? new[]
                {
                    Problem.Hint(
                        "ask.reward",
                        reward.AwayWhenEmpty
                            ? "The pool has no code left: the prompt stays away until it has."
                            : "The pool has no code left: whoever says yes gets thanks and no code."
                    ),
                }
                : [],
        ];

    /// <inheritdoc/>
    public override Callout Compile(Definition definition, Brief content, SiteContext context) =>
        new(definition, content, context);

    /// <inheritdoc/>
    public override References ReferencesOf(Brief content) =>
        References.Join([
            content.Targeting.References,
            new References(
                new HashSet<Guid>(),
                new HashSet<Guid>(),
                content.From.Sources.ToHashSet(),
                new[] { content.Say.PictureAddress, content.Look.Backdrop, content.Ask?.Second.Picture ?? "" }
                    .Where(a => a.Length > 0)
                    .ToHashSet()
            )
            {
                Rewards = new HashSet<Guid>(content.Ask?.Reward.SourceId is { } reward ? [reward] : []),
            },
        ]);

    /// <summary>The words of a notice, which no event bears out, and a code that visitors are given.</summary>
    public override string PromiseOf(Brief content) =>
        content.Kind == CalloutKind.Prompt ? AskedOf(content)
        : content.Kind != CalloutKind.Notice && content.Say.Code.Length == 0 ? ""
        : string.Join(
            '\n',
            content
                .Say.Translations.SelectMany(t => new[] { t.Language, t.Message, t.Detail, t.Button })
                .Prepend(content.Say.Code)
                .Prepend(content.Say.Button)
                .Prepend(content.Say.Detail)
                .Prepend(content.Say.Message)
        );

    // What visitors agree to is what a second person reads, the boxes they tick among it; of the question itself the words that promise
    // something.
    private static string AskedOf(Brief content) =>
        string.Join(
            '\n',
            (content.Ask?.Words ?? [])
                .SelectMany(w => new[] { w.Language, w.Promise, w.SmallPrint, w.Thanks })
                .Prepend(content.Say.Detail)
                .Prepend(content.Say.Message)
                .Append(content.Ask?.Reward.Code ?? "")
                .Concat(
                    (content.Ask?.Fields ?? [])
                        .Where(f => f.Kind == FieldKind.Consent)
                        .SelectMany(f => f.Words)
                        .SelectMany(w => new[] { w.Language, w.Label })
                )
        );

    /// <summary>
    /// Its colours, letters, corners and side, and how long it stays where it goes by itself; the kit's picture where it has a plain sign.
    /// </summary>
    public override Brief Dress(Brief content, BrandKit kit) =>
        content with
        {
            Say =
                kit.Picture.Length > 0 && content.Say.Picture == SayPicture.Sign
                    ? content.Say with
                    {
                        Picture = SayPicture.Image,
                        PictureAddress = kit.Picture,
                    }
                    : content.Say,
            Look = content.Look with
            {
                Band = kit.Band,
                Ground = kit.Ground,
                Side = kit.OnRight ? Side.Right : Side.Left,
                StaySeconds = content.Look.StaySeconds is null ? null : kit.StaySeconds,
                Typeface = kit.Typeface,
                CornerPx = kit.CornerPx,
            },
        };

    /// <summary>Starter words follow the source, until somebody writes their own.</summary>
    public override Brief Settle(Brief content, CheckSetting setting)
    {
        var source = content.From.Sources.Select(s => setting.Sources.FirstOrDefault(o => o.Id == s)).FirstOrDefault();
        return StarterWording.Follow(content, source?.Kind, setting.Context.Language);
    }

    /// <summary>An inset's place, and what it waits to come into view.</summary>
    public override IEnumerable<string> PlacesOf(Brief content) =>
        content
            .When.Triggers.Where(t => t.Kind == TriggerKind.InView)
            .Select(t => t.Target)
            .Concat(content.Look.Shape == Shape.Inset ? [content.Look.Anchor] : [])
            .Where(s => s.Length > 0);

    // Whatever is kept is checked, staged and rehearsed at every key; what could never be published is not kept.
    /// <inheritdoc/>
    public override string? TooLarge(Brief content) =>
        IsTooLarge(content) ? "The brief is larger than any that could be published." : null;

    private static bool IsTooLarge(Brief brief) =>
        brief.Say.Message.Length > LongestWording
        || brief.Say.Detail.Length > LongestWording
        || brief.Say.Button.Length > LongestWording
        || brief.Ask is { } ask
            && (
                ask.Fields.Count > MostOfOneList
                || ask.Hidden.Count > MostOfOneList
                || ask.Tags.Count > MostOfOneList
                || ask.Blocks.Count > MostOfOneList
                || ask.Words.Count > MostLanguages
                || ask.Fields.Any(f =>
                    f.Words.Count > MostLanguages || f.Words.Any(w => w.Choices.Count > MostOfOneList)
                )
                || ask.Words.Any(w => w.Promise.Length > LongestWording || w.Mail.Length > LongestWording)
                || ask.Landing.Length > SafeLink.MaxLength
            )
        || brief.Say.Translations.Count > MostLanguages
        || brief.Say.Translations.Any(t =>
            t.Message.Length > LongestWording || t.Detail.Length > LongestWording || t.Button.Length > LongestWording
        )
        || brief.Where.Includes.Count + brief.Where.Excludes.Count > 500
        || brief.Where.Groups.Count > MostOfOneList
        || brief.From.Sources.Count > MostOfOneList
        || brief.From.Conditions.Count > MostOfOneList
        || brief.From.Pages.Count > MostOfOneList
        || brief.When.Triggers.Count > MostOfOneList;
}
