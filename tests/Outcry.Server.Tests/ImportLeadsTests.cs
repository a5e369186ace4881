using System.Text;
using System.Text.Json;
using Microsoft.EntityFrameworkCore;
using NodaTime;
using Outcry.Core.Access;
using Outcry.Core.Asking;

namespace Outcry.Server.Tests;

/// <summary>Leads out of a file: looked at, taken in whole, taken in again; nobody who left comes back by it.</summary>
public sealed class ImportLeadsTests(TestDesk desk) : IClassFixture<TestDesk>
{
    private static CancellationToken Stop => TestContext.Current.CancellationToken;

    private static string NewAddress() => $"v{Guid.NewGuid():N}"[..12] + "@reader.net";

    private async Task<(HttpStatusCode Status, JsonElement Body)> ImportAsync(
        string csv,
        bool dryRun = false,
        DeskClient? member = null
    )
    {
        using var content = new ByteArrayContent(Encoding.UTF8.GetBytes(csv));
        content.Headers.ContentType = new("application/octet-stream");
        return await (member ?? await desk.OwnerAsync()).SendContentAsync(
            $"/api/sites/{desk.World.Site.Id}/leads/import?name=people.csv&dryRun={(dryRun ? "true" : "false")}",
            content
        );
    }

    private static int Of(JsonElement view, string name) => view.GetProperty(name).GetInt32();

    [Fact]
    public async Task It_is_looked_at_first_then_taken_in_and_the_same_again_changes_nothing()
    {
        var (agreed, waits) = (NewAddress(), NewAddress());
        var csv =
            $"email;first name;promise;agreed at;glaze\n{agreed};Noor;One letter a month.;2015-10-01T09:30:00Z;Celadon\n{waits};Tom;;;\nnobody;X;;;\n";
        var (status, tried) = await ImportAsync(csv, dryRun: true);
        Assert.True(status == HttpStatusCode.OK, $"{tried}");
        Assert.Equal((3, 2, 1, 1), (Of(tried, "read"), Of(tried, "new"), Of(tried, "agreed"), Of(tried, "refused")));
        Assert.Equal(4, tried.GetProperty("faults")[0].GetProperty("line").GetInt32());
        Assert.Equal("answer", tried.GetProperty("columns").Text("glaze"));
        await using var db = desk.Database.Open();
        Assert.False(await db.Leads.AnyAsync(l => l.EmailKey == agreed, Stop));
        Assert.Equal(HttpStatusCode.OK, (await ImportAsync(csv)).Status);
        var (_, again) = await ImportAsync(csv);
        Assert.Equal((0, 2), (Of(again, "new"), Of(again, "known")));
        var one = await db.Leads.SingleAsync(l => l.EmailKey == agreed, Stop);
        Assert.Equal((LeadState.Confirmed, "Celadon"), (one.State, one.Answers["glaze"]));
        var yes = await db.LeadYeses.SingleAsync(y => y.LeadId == one.Id, Stop);
        Assert.Equal(Instant.FromUtc(2015, 10, 1, 9, 30), yes.At);
        Assert.Equal("One letter a month.", (await db.Promises.SingleAsync(p => p.Id == yes.PromiseId, Stop)).Text);
        Assert.Equal(LeadState.Waiting, (await db.Leads.SingleAsync(l => l.EmailKey == waits, Stop)).State);
        // Nobody is written to by a file.
        Assert.False(await db.Letters.AnyAsync(l => l.To == agreed || l.To == waits, Stop));
    }

    [Fact]
    public async Task Whoever_took_it_back_stays_away_and_what_is_known_is_not_overwritten()
    {
        var (left, known) = (NewAddress(), NewAddress());
        await ImportAsync($"email,first_name,tags\n{left},Ada,\n{known},Noor,letters\n");
        await using (var db = desk.Database.Open())
            await db
                .Leads.Where(l => l.EmailKey == left)
                .ExecuteUpdateAsync(u => u.SetProperty(l => l.State, LeadState.Withdrawn), Stop);
        var (_, view) = await ImportAsync(
            $"email,first_name,surname,tags,promise,agreed_at\n{left},Ada,L,,Anything.,2015-10-01\n{known.ToUpperInvariant()},Other,Haddad,kiln,Anything.,2015-10-01\n"
        );
        Assert.Equal((1, 1, 0), (Of(view, "leftAlone"), Of(view, "known"), Of(view, "new")));
        await using var after = desk.Database.Open();
        Assert.Equal(LeadState.Withdrawn, (await after.Leads.SingleAsync(l => l.EmailKey == left, Stop)).State);
        var lead = await after.Leads.SingleAsync(l => l.EmailKey == known, Stop);
        Assert.Equal(("Noor", "Haddad", LeadState.Confirmed), (lead.FirstName, lead.Surname, lead.State));
        Assert.Equal(["letters", "kiln"], lead.Tags);
    }

    [Fact]
    public async Task Twice_in_one_file_is_one_person()
    {
        var address = NewAddress();
        var (_, view) = await ImportAsync($"email,phone\n{address},\n{address.ToUpperInvariant()},+447911123456\n");
        Assert.Equal((1, 1), (Of(view, "new"), Of(view, "known")));
        await using var db = desk.Database.Open();
        Assert.Equal("+447911123456", (await db.Leads.SingleAsync(l => l.EmailKey == address, Stop)).Phone);
    }

    [Theory]
    [InlineData("", "heading")]
    [InlineData("name,town\nNoor,Leeds\n", "email")]
    public async Task What_is_no_file_of_people_is_refused_in_words(string csv, string says)
    {
        var (status, body) = await ImportAsync(csv);
        Assert.Equal(HttpStatusCode.BadRequest, status);
        Assert.Contains(says, $"{body}", StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_quote_never_closed_and_a_file_too_large_lose_nothing()
    {
        var (status, _) = await ImportAsync("email,note\n" + NewAddress() + ",\"" + new string('x', 200_000));
        Assert.Equal(HttpStatusCode.BadRequest, status);
        var member = await DeskClient.SignInAsync(desk.Anonymous(), (await desk.AddMemberAsync(Role.Responder)).Email!);
        Assert.Equal(HttpStatusCode.Forbidden, (await ImportAsync("email\na@reader.net\n", member: member)).Status);
    }
}
