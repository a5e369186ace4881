using System.Net.Http.Headers;
using System.Text.Json;
using System.Text.Json.Nodes;
using Microsoft.EntityFrameworkCore;
using Outcry.Core.Publishing;

namespace Outcry.Server.Tests;

/// <summary>A workspace taken out as one document and in again elsewhere; a copy of a site.</summary>
public sealed class MovingTests(TestDesk desk)
{
    private async Task<(DeskClient Owner, Guid Workspace)> OpenAsync()
    {
        var owner = await desk.OwnerAsync();
        var (_, site) = await owner.PostAsync(
            "/api/workspaces",
            new
            {
                workspace = "Moved to",
                homeAddress = $"https://{Guid.NewGuid():N}.example/",
                timeZone = "Europe/Dublin",
                language = "en",
            }
        );
        return (owner, site.GetProperty("workspaceId").GetGuid());
    }

    private static async Task<(HttpStatusCode Status, JsonElement Body)> TakeInAsync(
        DeskClient owner,
        Guid workspace,
        string bundle,
        bool dryRun
    )
    {
        using var content = new StringContent(bundle);
        content.Headers.ContentType = new MediaTypeHeaderValue("application/octet-stream");
        using var answer = await owner.Http.PostAsync(
            $"/api/workspaces/{workspace}/bundle?dryRun={(dryRun ? "true" : "false")}",
            content
        );
        return (answer.StatusCode, await answer.JsonAsync());
    }

    private static List<string> Texts(JsonElement body, string part) =>
        [.. body.GetProperty(part).EnumerateArray().Select(t => t.GetString()!)];

    private async Task<string> TakeOutAsync()
    {
        var owner = await desk.OwnerAsync();
        // Two of one name that say different things.
        await Moments.StartAsync(owner, desk, b => b);
        await Moments.StartAsync(owner, desk, b => b with { Priority = 9 });
        return await owner.Http.GetStringAsync($"/api/workspaces/{desk.World.Site.WorkspaceId}/bundle");
    }

    // The demo's own site alone: other tests come and go with theirs.
    private string OneSite(string bundle, string? home = null)
    {
        var all = JsonNode.Parse(bundle)!;
        var site = all["sites"]!.AsArray().Single(s => s!["id"]!.GetValue<Guid>() == desk.World.Site.Id)!.DeepClone();
        if (home is not null)
            site["homeAddress"] = home;
        all["sites"] = new JsonArray(site);
        return all.ToJsonString();
    }

    [Fact]
    public async Task What_a_team_made_goes_out_in_one_document_without_secrets_and_comes_in_elsewhere_silent()
    {
        var bundle = await TakeOutAsync();
        Assert.DoesNotContain(desk.World.Checkout.Secret!, bundle, StringComparison.Ordinal);
        bundle = OneSite(bundle);
        var (owner, workspace) = await OpenAsync();

        var (status, dry) = await TakeInAsync(owner, workspace, bundle, dryRun: true);
        Assert.True(status == HttpStatusCode.OK, dry.ToString());
        Assert.Contains("the site Emberwick Pottery", Texts(dry, "new"));
        Assert.Contains("the page group Workshops", Texts(dry, "new"));
        Assert.Contains("the source Checkout, paused", Texts(dry, "new"));
        await using (var db = desk.Database.Open())
            Assert.Equal(1, await db.Sites.CountAsync(s => s.WorkspaceId == workspace));

        var (_, taken) = await TakeInAsync(owner, workspace, bundle, dryRun: false);
        Assert.Equal(Texts(dry, "new"), Texts(taken, "new"));
        await using (var db = desk.Database.Open())
        {
            var site = await db.Sites.SingleAsync(s => s.WorkspaceId == workspace && s.Name == "Emberwick Pottery");
            Assert.NotEqual(desk.World.Site.Id, site.Id);
            Assert.NotEqual(desk.World.Site.PassportKey, site.PassportKey);
            var definitions = await db.Definitions.Where(d => d.SiteId == site.Id).ToListAsync();
            Assert.NotEmpty(definitions);
            Assert.DoesNotContain(definitions, d => d.State == DefinitionState.Live);
            var sources = await db.Sources.Where(s => s.SiteId == site.Id).ToListAsync();
            Assert.All(sources, s => Assert.NotNull(s.PausedAt));
            // What names a source names the one here.
            var mine = sources.Select(s => $"{s.Id}").ToList();
            Assert.Contains(definitions, d => mine.Exists(id => d.Draft.Json.Contains(id, StringComparison.Ordinal)));
            Assert.DoesNotContain(
                definitions,
                d => d.Draft.Json.Contains($"{desk.World.Checkout.Id}", StringComparison.Ordinal)
            );
        }

        // Once more: all of it is here.
        var (_, again) = await TakeInAsync(owner, workspace, bundle, dryRun: false);
        Assert.Empty(Texts(again, "new"));
        Assert.Empty(Texts(again, "differs"));
        Assert.True(again.GetProperty("same").GetInt32() > 10);
        var changed = JsonNode.Parse(bundle)!;
        changed["sites"]![0]!["groups"]!.AsArray().Single(g => g!["name"]!.GetValue<string>() == "Workshops")![
            "includes"
        ] = new JsonArray("/classes/**");
        var (_, differs) = await TakeInAsync(owner, workspace, changed.ToJsonString(), dryRun: true);
        Assert.Equal(["the page group Workshops: kept as it is here"], Texts(differs, "differs"));
    }

    [Theory]
    [InlineData("", "not as expected")]
    [InlineData("null", "empty")]
    [InlineData("[]", "not as expected")]
    [InlineData("""{"format":"outcry-bundle"}""", "not as expected")]
    [InlineData("\u0001", "not as expected")]
    public async Task What_is_no_bundle_is_refused_in_words(string file, string says)
    {
        var (owner, workspace) = await OpenAsync();
        var (status, body) = await TakeInAsync(owner, workspace, file, dryRun: false);
        Assert.Equal(HttpStatusCode.BadRequest, status);
        Assert.Contains($"no bundle that can be taken in: it is {says}", body.Text("detail"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_spoilt_bundle_takes_in_what_can_be_and_names_the_rest_and_a_newer_one_is_not_guessed_at()
    {
        var bundle = JsonNode.Parse(OneSite(await TakeOutAsync(), $"https://{Guid.NewGuid():N}.example/"))!;
        var (owner, workspace) = await OpenAsync();
        var site = bundle["sites"]![0]!;
        var definitions = site["definitions"]!.AsArray();
        definitions.Add(definitions[0]!.DeepClone());
        definitions[^1]!["id"] = $"{Guid.NewGuid()}";
        definitions[^1]!["name"] = "Broken";
        definitions[^1]!["draft"] = new JsonObject { ["kind"] = "nothing of the sort" };
        site["pictures"]!
            .AsArray()
            .Add(
                new JsonObject
                {
                    ["id"] = $"{Guid.NewGuid()}",
                    ["name"] = "No picture",
                    ["bytes"] = Convert.ToBase64String("<svg onload='x'/>"u8),
                }
            );
        site["groups"]!.AsArray()[0]!["includes"] = new JsonArray("not a pattern ((");
        var (status, taken) = await TakeInAsync(owner, workspace, bundle.ToJsonString(), dryRun: false);
        Assert.True(status == HttpStatusCode.OK, taken.ToString());
        var missing = Texts(taken, "missing");
        Assert.Contains(missing, m => m.Contains("Broken", StringComparison.Ordinal));
        Assert.Contains(missing, m => m.Contains("No picture", StringComparison.Ordinal));
        Assert.Contains(missing, m => m.Contains("patterns", StringComparison.Ordinal));
        bundle["version"] = 2;
        Assert.Equal(
            HttpStatusCode.BadRequest,
            (await TakeInAsync(owner, workspace, bundle.ToJsonString(), dryRun: true)).Status
        );
    }

    [Fact]
    public async Task A_copy_of_a_site_shares_nothing_live()
    {
        var owner = await desk.OwnerAsync();
        var (status, body) = await owner.PostAsync(
            $"/api/sites/{desk.World.Site.Id}/copy",
            new { name = "Trying kiln", homeAddress = "https://trying.example/" }
        );
        Assert.True(status == HttpStatusCode.OK, body.ToString());
        var copy = body.GetProperty("site").GetProperty("id").GetGuid();
        await using (var db = desk.Database.Open())
        {
            var site = await db.Sites.SingleAsync(s => s.Id == copy);
            Assert.Equal(["trying.example"], site.AllowedHosts);
            Assert.NotEqual(desk.World.Site.Key, site.Key);
            Assert.Empty(await db.Events.Where(e => e.SiteId == copy).ToListAsync());
            Assert.All(
                await db.Definitions.Where(d => d.SiteId == copy).ToListAsync(),
                d => Assert.NotEqual(DefinitionState.Live, d.State)
            );
        }
        // Other tests look at this workspace's sites.
        await owner.PostAsync($"/api/sites/{copy}/remove", new { name = "Trying kiln" });
    }

    [Fact]
    public async Task The_schema_that_is_shipped_is_the_documents_own_and_a_real_one_fits_its_first_level()
    {
        var file = Path.Combine(TestDesk.Root, "docs", "bundle.schema.json");
        var schema = Moving.BundleSchema.Write();
        if (Environment.GetEnvironmentVariable("OUTCRY_WRITE_SCHEMA") is not null)
            await File.WriteAllTextAsync(file, schema);
        Assert.Equal(schema, await File.ReadAllTextAsync(file));
        var required = JsonNode.Parse(schema)!["required"]!.AsArray().Select(r => r!.GetValue<string>());
        var real = JsonNode.Parse(await TakeOutAsync())!.AsObject();
        Assert.All(required, r => Assert.True(real.ContainsKey(r), r));
    }
}
