using Outcry.Core.Publishing;
using Outcry.Core.Saying;

namespace Outcry.Core.Briefs;

/// <summary>Two colours that stand on each other.</summary>
/// <param name="What">What is read there.</param>
/// <param name="Upper">The colour above, #RRGGBB.</param>
/// <param name="Lower">The colour below it.</param>
/// <param name="Ratio">Contrast ratio, 1 to 21 (WCAG 2.2, success criterion 1.4.3).</param>
/// <param name="Least">The least that it should be.</param>
public sealed record ColourPair(string What, string Upper, string Lower, double Ratio, double Least);

/// <summary>Checks a brand kit: its colours as the pairs in which they are met.</summary>
public static class KitCheck
{
    /// <summary>What marks something has to stand out as much (WCAG 2.2, success criterion 1.4.11).</summary>
    private const double LeastForMarks = 3;

    private const int MostToneLength = 120;
    private const int MostTones = 40;

    /// <summary>Everything wrong or noteworthy.</summary>
    public static IReadOnlyList<Problem> Problems(BrandKit kit)
    {
        var problems = new List<Problem>();
        if (!Contrast.IsColour(kit.Band))
            problems.Add(new Problem("band", "The band's colour must be of the form #9C3517."));
        if (!Contrast.IsColour(kit.Ground))
            problems.Add(new Problem("ground", "The ground's colour must be of the form #FFFFFF."));
        if (kit.StaySeconds is < 2 or > 120)
            problems.Add(new Problem("staySeconds", "It must stay between 2 and 120 seconds."));
        if (kit.CornerPx is < 0 or > BrandKit.MostCornerPx)
            problems.Add(new Problem("cornerPx", LookCheck.Corners));
        foreach (var (field, address) in new[] { ("logo", kit.Logo), ("picture", kit.Picture) })
            if (address.Length > 0 && SafeLink.TryPassPicture(address) is null)
                problems.Add(new Problem(field, "A picture has an address that begins with https:// or with /."));
        foreach (var tone in kit.Tones)
            if (tone.Language.Length > 0 && !LanguageTag.IsWellFormed(tone.Language))
                problems.Add(new Problem("tones", $"\"{tone.Language}\" is no language that browsers know."));
            else if (tone.Words.Trim().Length is 0 or > MostToneLength)
                problems.Add(
                    new Problem("tones", $"How readers are spoken to takes 1 to {MostToneLength} characters.")
                );
        if (kit.Tones is { Count: > MostTones })
            problems.Add(new Problem("tones", $"At most {MostTones} languages."));
        if (problems.Count == 0)
            problems.AddRange(
                Pairs(kit)
                    .Where(p => p.Ratio < p.Least)
                    .Select(p =>
                        Problem.Hint(
                            "band",
                            $"{p.What} can hardly be seen: {p.Ratio:0.0} to 1, and {p.Least:0.0} is needed."
                        )
                    )
            );
        return problems;
    }

    /// <summary>The pairs of colours in which a kit is met; of one whose colours can be read.</summary>
    public static IReadOnlyList<ColourPair> Pairs(BrandKit kit)
    {
        var (onBand, onGround) = (Contrast.InkOn(kit.Band), Contrast.InkOn(kit.Ground));
        return
        [
            new("Words on the button", onBand, kit.Band, Contrast.Ratio(onBand, kit.Band), Contrast.LeastForText),
            new(
                "Words on the ground",
                onGround,
                kit.Ground,
                Contrast.Ratio(onGround, kit.Ground),
                Contrast.LeastForText
            ),
            new(
                "The band beside the ground",
                kit.Band,
                kit.Ground,
                Contrast.Ratio(kit.Band, kit.Ground),
                LeastForMarks
            ),
        ];
    }
}
