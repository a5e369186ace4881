using Outcry.Core.Publishing;
using Outcry.Core.Visitors;

namespace Outcry.Core.Planning;

/// <summary>Reads the shared pieces that a brief names.</summary>
public static class BriefReferences
{
    /// <summary>Everything shared that the brief names, once each.</summary>
    public static References Of(Brief brief) =>
        new(
            RuleParts.Segments(brief.Who.Rule).ToHashSet(),
            brief.Where.Groups.ToHashSet(),
            brief.From.Sources.Concat(brief.HowOften.Goals).ToHashSet(),
            new HashSet<string>(brief.Say.PictureAddress.Length > 0 ? [brief.Say.PictureAddress] : [])
        );
}
