using System.Globalization;
using System.Text.Json;
using System.Text.Json.Serialization;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Npgsql;
using Outcry.Core.Saying;
using Outcry.Server.Passports;
using Outcry.Server.Sites;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Talks;

/// <summary>What a link back into a talk carries.</summary>
/// <param name="Talk">Which talk.</param>
/// <param name="Until">Good until, in Unix seconds.</param>
internal sealed record TalkLinkBody(Guid Talk, long Until);

/// <summary>Links by which a visitor comes back to a talk from a mail, in whatever browser.</summary>
internal static class TalkLink
{
    /// <summary>The name under which a page's address carries one behind its "#", where no server's log keeps it.</summary>
    public const string FragmentName = "outcry-talk";

    public static string Make(LiveSite site, TalkRow talk, Instant now) =>
        SignedText.Sign(
            site.LinkKeys,
            JsonSerializer.SerializeToUtf8Bytes(
                new TalkLinkBody(talk.Id, (now + TalkKey.Lives).ToUnixTimeSeconds()),
                TalkLinkJson.Default.TalkLinkBody
            )
        );

    /// <summary>The talk that a link leads to; null where it is not this site's, was changed or has run out.</summary>
    public static Guid? TryRead(LiveSite site, string token, Instant now)
    {
        if (SignedText.TryOpen(site.LinkKeys, token) is not { } bytes)
            return null;
        try
        {
            var body = JsonSerializer.Deserialize(bytes, TalkLinkJson.Default.TalkLinkBody);
            return body is not null && body.Until > now.ToUnixTimeSeconds() ? body.Talk : null;
        }
        catch (JsonException)
        {
            return null;
        }
    }
}

[JsonSourceGenerationOptions(
    PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase,
    RespectRequiredConstructorParameters = true
)]
[JsonSerializable(typeof(TalkLinkBody))]
internal sealed partial class TalkLinkJson : JsonSerializerContext;

/// <summary>Mails about talks: what was said, answers that were not seen, visitors who wait.</summary>
internal sealed class TalkLetters(IClock clock)
{
    private const int MostWords = 500;

    /// <summary>Sends a visitor what was said so far.</summary>
    public async Task SendTranscriptAsync(OutcryDb db, LiveSite site, TalkRow talk, CancellationToken stop)
    {
        var words = await ReadAsync(db, talk, 0, stop);
        await SendAsync(db, site, talk, $"{talk.Id}:transcript:{talk.Last}", site.Name, words, stop);
    }

    /// <summary>Sends answers after a visitor who has not seen them: several in one mail.</summary>
    public async Task SendAnswersAsync(OutcryDb db, LiveSite site, TalkRow talk, CancellationToken stop)
    {
        var words = (await ReadAsync(db, talk, Math.Max(talk.SeenByVisitor, talk.MailedUpTo), stop))
            .Where(w => w.By == SaidBy.Member)
            .ToList();
        if (words.Count > 0)
        {
            var voice = VoiceOf(site, talk);
            var who = FirstName(words[^1].Name);
            var subject = BuiltInWords.Say(voice, BuiltInWord.MailAnswered, who);
            await SendAsync(db, site, talk, $"{talk.Id}:{words[^1].Number}", subject, words, stop);
        }
        talk.MailedUpTo = talk.Last;
    }

    private async Task SendAsync(
        OutcryDb db,
        LiveSite site,
        TalkRow talk,
        string about,
        string subject,
        IReadOnlyList<TalkWordRow> words,
        CancellationToken stop
    )
    {
        var now = clock.GetCurrentInstant();
        var voice = VoiceOf(site, talk);
        var back = LinkBack(site, talk, now);
        var lines = words
            .Select(w =>
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"{w.At.InZone(site.Zone):HH:mm} {NameOf(w, voice)}: {w.Text}"
                )
            )
            .Append("")
            .Append(BuiltInWords.Say(voice, BuiltInWord.MailGoOn, back))
            .Append(BuiltInWords.Say(voice, BuiltInWord.MailNoReply));
        db.Letters.Add(
            new LetterRow
            {
                WorkspaceId = talk.WorkspaceId,
                SiteId = talk.SiteId,
                To = talk.Email!,
                About = about,
                Subject = subject,
                Text = string.Join("\n", lines),
                MadeAt = now,
                NextAt = now,
            }
        );
        await SaveOnceAsync(db, stop);
    }

    /// <summary>Tells members by mail.</summary>
    public async Task TellMembersAsync(
        OutcryDb db,
        TalkRow talk,
        IEnumerable<string> addresses,
        string about,
        string subject,
        string text,
        CancellationToken stop,
        string? calendar = null
    )
    {
        var now = clock.GetCurrentInstant();
        foreach (var address in addresses.Distinct(StringComparer.OrdinalIgnoreCase))
            db.Letters.Add(
                new LetterRow
                {
                    WorkspaceId = talk.WorkspaceId,
                    SiteId = talk.SiteId,
                    To = address,
                    About = about,
                    Subject = subject,
                    Text = text,
                    Calendar = calendar,
                    MadeAt = now,
                    NextAt = now,
                }
            );
        await SaveOnceAsync(db, stop);
    }

    // The same mail is made once, whoever makes it at the same moment; what else is to be saved is saved.
    public static async Task SaveOnceAsync(OutcryDb db, CancellationToken stop)
    {
        while (true)
        {
            try
            {
                await db.SaveChangesAsync(stop);
                return;
            }
            catch (DbUpdateException twice)
                when (twice.InnerException is PostgresException { SqlState: PostgresErrorCodes.UniqueViolation }
                    && twice.Entries.Any(e => e.Entity is LetterRow)
                )
            {
                foreach (var made in twice.Entries.Where(e => e.Entity is LetterRow))
                    made.State = EntityState.Detached;
            }
        }
    }

    private static async Task<List<TalkWordRow>> ReadAsync(
        OutcryDb db,
        TalkRow talk,
        int after,
        CancellationToken stop
    ) =>
        await db
            .TalkWords.AsNoTracking()
            .Where(w => w.TalkId == talk.Id && w.Number > after && w.For == ReadBy.Both)
            .OrderBy(w => w.Number)
            .Take(MostWords)
            .ToListAsync(stop);

    private static string NameOf(TalkWordRow word, Voice voice) =>
        word.By switch
        {
            SaidBy.Member => FirstName(word.Name),
            SaidBy.Visitor => BuiltInWords.Say(voice, BuiltInWord.TalkYou),
            _ => "",
        };

    /// <summary>The page where they were, with a link by which any browser comes back into the talk.</summary>
    public static string LinkBack(LiveSite site, TalkRow talk, Instant now) =>
        $"{talk.Page.Split('#', 2)[0]}#{TalkLink.FragmentName}={TalkLink.Make(site, talk, now)}";

    /// <summary>Visitors read a first name and no more.</summary>
    public static string FirstName(string name) => name.Split(' ', 2)[0];

    /// <summary>How a talk is spoken in.</summary>
    public static Voice VoiceOf(LiveSite site, TalkRow talk) =>
        Voice.Of(talk.Language, [talk.Language], site.Context.WordsOf(talk.Language));
}
