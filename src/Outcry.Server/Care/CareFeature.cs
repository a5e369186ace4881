using Microsoft.AspNetCore.Http.HttpResults;
using Microsoft.EntityFrameworkCore;
using Outcry.Core.Access;
using Outcry.Core.Care;
using Outcry.Core.Saying;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Care;

/// <summary>What a site keeps, asks and holds.</summary>
/// <param name="Noun">What stands for a person who is not named, in the site's language.</param>
/// <param name="Nouns">The site's own nouns by language.</param>
/// <param name="SuppliedNouns">Those that come with Outcry.</param>
/// <param name="StillToScan">Events that are still to be looked at for words that were added; null when that is done.</param>
/// <param name="IdentitySecret">Signs what the page says of a visitor, for owners only; hex.</param>
internal sealed record CareView(
    string Language,
    string Noun,
    IReadOnlyDictionary<string, string> Nouns,
    IReadOnlyDictionary<string, string> SuppliedNouns,
    ConsentMode Consent,
    Retention Keeps,
    WordChoice Words,
    IReadOnlyDictionary<string, int> SuppliedWords,
    int? StillToScan,
    string? IdentitySecret
);

/// <summary>What is to change; what is left out stays.</summary>
internal sealed record CareRequest(
    IReadOnlyDictionary<string, string>? Nouns = null,
    ConsentMode? Consent = null,
    Retention? Keeps = null,
    WordChoice? Words = null
);

internal sealed record TryWordsRequest(string Text);

/// <param name="Found">The entry that holds the text; null when it may pass.</param>
internal sealed record TriedWordsView(string? Found);

/// <summary>Care for what is private, false or ugly: words, nouns, consent, retention.</summary>
internal static class CareFeature
{
    public static void AddCare(this WebApplicationBuilder builder) => builder.Services.AddSingleton<Robots>();

    public static void MapCare(this RouteGroupBuilder api)
    {
        var care = api.MapGroup("/sites/{siteId:guid}/care").WithTags("Care");
        care.MapGet("", GetAsync).WithName("GetCare");
        care.MapPut("", SetAsync).For(Right.Govern).WithName("SetCare");
        care.MapGet("/words", ListWords).WithName("ListSuppliedWords");
        care.MapPost("/words/try", Try).WithName("TryWords");
    }

    private static async Task<Ok<CareView>> GetAsync(
        Guid siteId,
        OutcryDb db,
        SuppliedWords supplied,
        CurrentMember member,
        CancellationToken stop
    ) =>
        TypedResults.Ok(
            await ViewAsync(
                db,
                await db.Sites.AsNoTracking().FirstAsync(s => s.Id == siteId, stop),
                supplied,
                member,
                stop
            )
        );

    private static async Task<Results<Ok<CareView>, ProblemHttpResult>> SetAsync(
        Guid siteId,
        CareRequest request,
        OutcryDb db,
        SuppliedWords supplied,
        CurrentMember member,
        TraceBook traces,
        SiteNews news,
        CancellationToken stop
    )
    {
        if (request.Keeps?.Fault() is var (field, sentence))
            return Problems.BadField($"keeps.{field}", sentence);
        if (
            request.Nouns?.FirstOrDefault(n => n.Value.Trim().Length > 40 || n.Key.Length > 35) is { Key: not null } bad
        )
            return Problems.BadField("nouns", $"The noun for {bad.Key} has at most 40 characters.");
        if (request.Words is { } words && (words.Added.Count > 2_000 || words.TakenOut.Count > 5_000))
            return Problems.BadField("words.added", "At most 2,000 words of your own.");
        if (
            request.Words?.Added.FirstOrDefault(w => w.Trim().Length is < 2 or > BlockedWords.MaxEntryLength) is { } odd
        )
            return Problems.BadField(
                "words.added",
                $"\"{odd}\" cannot be blocked: a word has 2 to {BlockedWords.MaxEntryLength} characters."
            );
        var row = await db.Sites.FirstAsync(s => s.Id == siteId, stop);
        var was = new CareRequest(row.Nouns, row.Consent, row.Keeps, row.Words);
        row.Nouns = request.Nouns is null
            ? row.Nouns
            : request.Nouns.Where(n => n.Value.Trim().Length > 0).ToDictionary(n => n.Key, n => n.Value.Trim());
        row.Consent = request.Consent ?? row.Consent;
        row.Keeps = request.Keeps ?? row.Keeps;
        if (request.Words is not null)
        {
            var before = row.Words.Apply(supplied.ByLanguage).ToHashSet(StringComparer.OrdinalIgnoreCase);
            row.Words = request.Words with { Added = [.. request.Words.Added.Select(w => w.Trim()).Distinct()] };
            var added = row.Words.Apply(supplied.ByLanguage).Where(w => !before.Contains(w)).ToList();
            if (added.Count > 0)
                // What is in the ledger already is looked through as well, from the beginning.
                (row.WordsDue, row.WordsDueAfter) = ([.. row.WordsDue.Union(added)], null);
        }
        var isNow = new CareRequest(row.Nouns, row.Consent, row.Keeps, row.Words);
        traces.Add("changed the care of", row.Name, siteId, TraceBook.Between(was, isNow));
        await db.SaveChangesAsync(stop);
        await news.TellAsync(siteId, SiteChange.Definition);
        return TypedResults.Ok(await ViewAsync(db, row, supplied, member, stop));
    }

    private static Ok<IReadOnlyDictionary<string, string[]>> ListWords(Guid siteId, SuppliedWords supplied) =>
        TypedResults.Ok(supplied.ByLanguage);

    private static Ok<TriedWordsView> Try(Guid siteId, TryWordsRequest request, LiveSites sites) =>
        TypedResults.Ok(new TriedWordsView(sites.GetById(siteId).Words.FindIn([PlainText.Clean(request.Text)])));

    private static async Task<CareView> ViewAsync(
        OutcryDb db,
        SiteRow row,
        SuppliedWords supplied,
        CurrentMember member,
        CancellationToken stop
    ) =>
        new(
            row.Language,
            NeutralNoun.For(row.Language, row.Nouns),
            row.Nouns,
            NeutralNoun.Languages.ToDictionary(l => l, l => NeutralNoun.For(l, new Dictionary<string, string>())),
            row.Consent,
            row.Keeps,
            row.Words,
            supplied.ByLanguage.ToDictionary(l => l.Key, l => l.Value.Length),
            await WordScan.LeftAsync(db, row, stop),
            member.May(Right.Connect) ? Convert.ToHexStringLower(row.IdentitySecret) : null
        );
}
