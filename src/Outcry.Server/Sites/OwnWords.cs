using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Outcry.Core.Saying;
using Outcry.Server.Platform;
using Outcry.Store;

namespace Outcry.Server.Sites;

/// <summary>One word that visitors read without a marketer having written it.</summary>
/// <param name="Key">Its name.</param>
/// <param name="Shipped">As it is supplied.</param>
/// <param name="Own">As the site says it instead; empty for as supplied.</param>
internal sealed record OwnWordView(string Key, string Shipped, string Own);

/// <summary>The built-in words of one language.</summary>
internal sealed record OwnWordsView(string Language, IReadOnlyList<OwnWordView> Words);

/// <summary>Own words by key; an empty one goes back to what is supplied.</summary>
internal sealed record OwnWordsRequest(IReadOnlyDictionary<string, string> Words);

/// <summary>The built-in words, which a site may say otherwise, language by language.</summary>
internal static class OwnWords
{
    private const int LongestWord = 200;
    private const int MostLanguages = 40;

    // The neutral noun is kept under Care, where names are.
    private static readonly IReadOnlyList<BuiltInWord> Words =
    [
        .. Enum.GetValues<BuiltInWord>().Except([BuiltInWord.Someone]),
    ];

    public static async Task<Results<Ok<OwnWordsView>, ProblemHttpResult>> ShowAsync(
        Guid siteId,
        string language,
        OutcryDb db,
        CancellationToken stop
    )
    {
        if (!LanguageTag.IsWellFormed(language))
            return NoLanguage();
        var row = await db.Sites.AsNoTracking().FirstAsync(s => s.Id == siteId, stop);
        return TypedResults.Ok(View(language, row.OwnWords.GetValueOrDefault(language)));
    }

    public static async Task<Results<Ok<OwnWordsView>, ProblemHttpResult>> ChangeAsync(
        Guid siteId,
        string language,
        OwnWordsRequest request,
        OutcryDb db,
        SiteNews news,
        TraceBook traces,
        CancellationToken stop
    )
    {
        if (!LanguageTag.IsWellFormed(language))
            return NoLanguage();
        var own = new Dictionary<string, string>();
        foreach (var (key, text) in request.Words)
        {
            var word = Words.Cast<BuiltInWord?>().FirstOrDefault(w => BuiltInWords.Key(w!.Value) == key);
            if (word is null)
                return Problems.BadField("words", $"There is no built-in word named {key}.");
            if (Objection(text.Trim(), Shipped(language, word.Value)) is { } objection)
                return Problems.BadField(key, objection);
            if (text.Trim().Length > 0)
                own[key] = text.Trim();
        }
        var row = await db.Sites.FirstAsync(s => s.Id == siteId, stop);
        var all = row.OwnWords.ToDictionary(w => w.Key, w => w.Value);
        foreach (var spelt in all.Keys.Where(k => k.Equals(language, StringComparison.OrdinalIgnoreCase)).ToList())
            all.Remove(spelt);
        if (own.Count > 0)
            all[language] = own;
        if (all.Count > MostLanguages)
            return Problems.BadField("language", $"At most {MostLanguages} languages have words of their own.");
        traces.Add("changed built-in words of", row.Name, siteId, TraceBook.Between(row.OwnWords, all));
        row.OwnWords = all;
        await db.SaveChangesAsync(stop);
        await news.TellAsync(siteId, SiteChange.Definition);
        return TypedResults.Ok(View(language, own));
    }

    private static string? Objection(string text, string shipped)
    {
        if (text.Length > LongestWord)
            return $"At most {LongestWord} characters.";
        if (text.Any(char.IsControl))
            return "Write it on one line.";
        var needs = shipped.Contains("{0}", StringComparison.Ordinal);
        return text.Length > 0 && text.Contains("{0}", StringComparison.Ordinal) != needs
            ? needs
                ? "Keep {0}: what stands there is filled in."
                : "There is nothing to be filled in here, so leave out {0}."
            : null;
    }

    private static OwnWordsView View(string language, IReadOnlyDictionary<string, string>? own) =>
        new(
            language,
            [
                .. Words.Select(w => new OwnWordView(
                    BuiltInWords.Key(w),
                    Shipped(language, w),
                    own?.GetValueOrDefault(BuiltInWords.Key(w)) ?? ""
                )),
            ]
        );

    private static string Shipped(string language, BuiltInWord word) =>
        BuiltInWords.Say(Voice.Of(language, [], null), word);

    private static ProblemHttpResult NoLanguage() =>
        Problems.BadField("language", "Write the language as a tag such as en, de or pt-BR (BCP 47).");
}
