using Outcry.Core.Asking;
using Outcry.Core.Scripts;
using Outcry.Server.Leads;
using Outcry.Server.Platform;
using Outcry.Server.Sites;
using Outcry.Store.Rows;

namespace Outcry.Server.Talks;

/// <summary>Whoever left an address in a script and agreed to be written to is a lead, with the question they agreed to as its promise.</summary>
internal sealed class TalkLeads(LeadBook book, SystemDb database, DeskAddress desk)
{
    // A script confirms nothing: they may be written to about what they asked.
    private static readonly AskFacet Agreed = new([], [], [], Ticks: true, Confirms: false, Reward.Nothing, []);

    /// <summary>Notes a lead where a script has just come to know an address.</summary>
    /// <param name="before">The address that was known before.</param>
    /// <param name="wordId">The word by which it came: sent twice it is one yes.</param>
    public async Task NoteAsync(
        HttpContext http,
        LiveSite site,
        TalkRow talk,
        RunningScript? running,
        string? before,
        Guid wordId
    )
    {
        if (running is null || talk.Email is not { } email || email == before || talk.ScriptId is not { } script)
            return;
        await using var db = database.Open();
        var name = (await db.Definitions.FindAsync([script], http.RequestAborted))?.Name ?? "A script";
        var consent = running.Script.Steps.FirstOrDefault(s => s.Ask?.Kind == AskKind.Consent);
        var promise = consent is null ? "" : ScriptMachine.WordsOf(consent.Words, running.Now).Words;
        var values = (talk.Script?.Kept ?? ScriptState.Start.Kept)
            .Where(k => k.Value.IsUnderstood)
            .ToDictionary(k => k.Key, k => k.Value.Value);
        await book.TakeAsync(
            site,
            new NewYes(
                wordId,
                new SaidYesTo(script, talk.ScriptRevision, name),
                Agreed,
                new AnswerSheet(
                    values,
                    new Dictionary<string, Core.Saying.BuiltInWord>(),
                    AnswerSheet.ReadEmail(email) ?? email,
                    null,
                    talk.Name.Length > 0 ? talk.Name : null,
                    null
                ),
                promise,
                talk.Language,
                talk.Page.Split('?', 2)[0],
                "",
                talk.VisitorId,
                talk.Place,
                talk.IsTest
            ),
            desk.Of(http.Request),
            http.RequestAborted
        );
    }
}
