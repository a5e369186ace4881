using System.Text.Json;
using Microsoft.AspNetCore.Authorization;
using Microsoft.AspNetCore.Routing;
using Microsoft.Extensions.DependencyInjection;
using Outcry.Core.Access;
using Outcry.Server.Platform;
using Outcry.Store.Rows;

namespace Outcry.Server.Tests;

/// <summary>The table of rights against the running desk: every endpoint, every role, a stranger, and who has a role elsewhere.</summary>
public sealed class AccessTableTests(TestDesk desk)
{
    private sealed record Asked(Endpoint Endpoint, Right Right, bool IsOwn, bool IsOpen);

    /// <summary>Every endpoint of the desk as its own description lists it, with what it asks for.</summary>
    private async Task<List<Asked>> AskedAsync(Guid workspace, Guid site)
    {
        var routes = desk
            .Services.GetServices<EndpointDataSource>()
            .SelectMany(s => s.Endpoints)
            .OfType<RouteEndpoint>()
            .ToLookup(e => (e.RoutePattern.RawText ?? "").TrimEnd('/'));
        var known = new Dictionary<string, string>
        {
            ["workspaceId"] = $"{workspace}",
            ["siteId"] = $"{site}",
            ["format"] = "csv",
            ["language"] = "en",
            ["number"] = "1",
        };
        var asked = new List<Asked>();
        foreach (var endpoint in await Endpoints.OfAsync(desk, known))
        {
            if (!endpoint.Path.StartsWith("/api/", StringComparison.Ordinal))
                continue;
            var route = routes
                .SelectMany(r => r)
                .First(e =>
                    Plain(e.RoutePattern.RawText!) == endpoint.Path
                    && e.Metadata.GetMetadata<HttpMethodMetadata>()!.HttpMethods.Contains(endpoint.Method.Method)
                );
            asked.Add(
                new Asked(
                    endpoint,
                    route.Metadata.GetMetadata<RightDemand>()!.Right,
                    route.Metadata.GetMetadata<OwnAccount>() is not null,
                    route.Metadata.GetMetadata<IAllowAnonymous>() is not null
                )
            );
        }
        return asked;
    }

    // "{siteId:guid}" stands as "{siteId}" in the description.
    private static string Plain(string pattern) =>
        System.Text.RegularExpressions.Regex.Replace(pattern, @"\{(\w+):[^}]+\}", "{$1}").TrimEnd('/');

    private static Task<(HttpStatusCode Status, JsonElement Body)> TryAsync(DeskClient client, Endpoint endpoint) =>
        // With nothing in it: who may not is refused before anything is read, and who may changes nothing.
        client.SendAsync(
            endpoint.Method,
            endpoint.Address,
            endpoint.Method == HttpMethod.Get ? null : new Dictionary<string, string>()
        );

    private async Task<(Guid Workspace, Guid Site)> OpenAsync(string name)
    {
        var owner = await desk.OwnerAsync();
        var (status, site) = await owner.PostAsync(
            "/api/workspaces",
            new
            {
                workspace = name,
                homeAddress = $"https://{name.ToLowerInvariant()}.example/",
                timeZone = "Europe/Dublin",
                language = "en",
            }
        );
        Assert.Equal(HttpStatusCode.OK, status);
        return (site.GetProperty("workspaceId").GetGuid(), site.GetProperty("id").GetGuid());
    }

    [Fact]
    public async Task Every_endpoint_opens_to_the_roles_of_the_table_and_to_no_other()
    {
        var (workspace, site) = await OpenAsync("Tabled");
        var endpoints = await AskedAsync(workspace, site);
        Assert.InRange(endpoints.Count, 120, 400);
        Assert.All(Enum.GetValues<Right>().Except([Right.Answer]), r => Assert.Contains(endpoints, e => e.Right == r));
        foreach (var role in AccessTable.Roles)
        {
            var member = await desk.AddMemberAsync(role, workspace);
            var client = await DeskClient.SignInAsync(desk.Anonymous(), member.Email!);
            foreach (var asked in endpoints.Where(e => !e.IsOpen && !e.IsOwn))
            {
                var (status, body) = await TryAsync(client, asked.Endpoint);
                var refused =
                    status == HttpStatusCode.Forbidden
                    && body.ValueKind == JsonValueKind.Object
                    && body.Text("type") == "urn:outcry:problem:role";
                Assert.True(
                    refused != AccessTable.Allows(role, asked.Right) || IsOthers(asked.Endpoint),
                    $"{role} {asked.Endpoint.Method} {asked.Endpoint.Path} ({asked.Right}) answered {status}: {body}"
                );
            }
        }
    }

    // Nothing of it is about the workspace: there is nobody whose right could be asked for.
    private static bool IsOthers(Endpoint endpoint) =>
        !endpoint.Path.Contains("{siteId}", StringComparison.Ordinal)
        && !endpoint.Path.Contains("{workspaceId}", StringComparison.Ordinal);

    [Fact]
    public async Task Nobody_finds_a_workspace_that_is_not_theirs_and_nothing_opens_to_whoever_is_not_signed_in()
    {
        var (workspace, site) = await OpenAsync("Walled");
        var stranger = await desk.StrangerAsync();
        var nobody = new DeskClient(desk.Anonymous());
        await nobody.TakeTokenAsync();
        foreach (var asked in (await AskedAsync(workspace, site)).Where(e => !e.IsOpen))
        {
            var (status, _) = await TryAsync(nobody, asked.Endpoint);
            Assert.True(
                status == HttpStatusCode.Unauthorized,
                $"nobody {asked.Endpoint.Method} {asked.Endpoint.Path} answered {status}"
            );
            if (IsOthers(asked.Endpoint))
                continue;
            (status, _) = await TryAsync(stranger, asked.Endpoint);
            Assert.True(
                status == HttpStatusCode.NotFound,
                $"a stranger {asked.Endpoint.Method} {asked.Endpoint.Path} answered {status}"
            );
        }
    }

    [Fact]
    public async Task Who_owns_one_workspace_and_looks_in_another_has_in_each_the_role_of_each()
    {
        var (workspace, site) = await OpenAsync("Second");
        var member = await desk.AddMemberAsync(Role.Owner);
        await using (var db = desk.Database.Open())
        {
            db.Memberships.Add(
                new MembershipRow
                {
                    WorkspaceId = workspace,
                    MemberId = member.Id,
                    Role = Role.Viewer,
                }
            );
            await db.SaveChangesAsync();
        }
        var client = await DeskClient.SignInAsync(desk.Anonymous(), member.Email!);
        foreach (var asked in (await AskedAsync(workspace, site)).Where(e => !e.IsOpen && !e.IsOwn))
        {
            if (IsOthers(asked.Endpoint))
                continue;
            var (status, body) = await TryAsync(client, asked.Endpoint);
            Assert.True(
                AccessTable.Allows(Role.Viewer, asked.Right)
                    || (status == HttpStatusCode.Forbidden && body.Text("type") == "urn:outcry:problem:role"),
                $"{asked.Endpoint.Method} {asked.Endpoint.Path} ({asked.Right}) answered {status}"
            );
        }
        var strip = await client.SendAsync(HttpMethod.Get, $"/api/sites/{desk.World.Site.Id}/strip");
        Assert.Equal(HttpStatusCode.OK, strip.Status);
        var sites = (await client.GetAsync("/api/sites")).EnumerateArray().ToList();
        Assert.Contains(sites, s => s.GetProperty("workspaceId").GetGuid() == workspace);
        Assert.Contains(sites, s => s.GetProperty("id").GetGuid() == desk.World.Site.Id);
        Assert.DoesNotContain(sites, s => s.GetProperty("id").GetGuid() == desk.OtherSite.Id);
        var theirs = (await client.GetAsync("/api/session")).GetProperty("member").GetProperty("workspaces");
        Assert.Equal(
            ["owner", "viewer"],
            theirs.EnumerateArray().Select(w => w.Text("role")).Order(StringComparer.Ordinal)
        );
    }

    [Fact]
    public async Task A_machines_token_opens_what_its_scopes_say_until_it_is_ended_and_every_account_stays_shut_to_it()
    {
        var (workspace, site) = await OpenAsync("Machined");
        var owner = await desk.OwnerAsync();
        var tokens = $"/api/workspaces/{workspace}/team/tokens";
        var (_, made) = await owner.PostAsync(tokens, new { name = "Nightly report", scopes = new[] { "read" } });
        var machine = new DeskClient(desk.Anonymous());
        machine.Http.DefaultRequestHeaders.Authorization = new("Bearer", made.Text("token"));
        var opened = 0;
        foreach (var asked in (await AskedAsync(workspace, site)).Where(e => !e.IsOpen))
        {
            var (status, body) = await TryAsync(machine, asked.Endpoint);
            var reads =
                asked.Endpoint.Method == HttpMethod.Get && !asked.IsOwn && asked.Right is Right.Enter or Right.See;
            var refused = status == HttpStatusCode.Forbidden && body.Text("type") == "urn:outcry:problem:scope";
            Assert.True(
                refused != (reads && asked.Endpoint.Method == HttpMethod.Get),
                $"{asked.Endpoint.Method} {asked.Endpoint.Path} ({asked.Right}) answered {status}"
            );
            opened += refused ? 0 : 1;
        }
        Assert.True(opened > 20);
        // Of another workspace there is nothing, as for any stranger.
        var (other, _) = await machine.SendAsync(HttpMethod.Get, $"/api/sites/{desk.OtherSite.Id}/strip");
        Assert.Equal(HttpStatusCode.NotFound, other);
        var listed = Assert.Single((await owner.GetAsync(tokens)).EnumerateArray());
        Assert.NotEqual(JsonValueKind.Null, listed.GetProperty("usedAt").ValueKind);
        Assert.DoesNotContain(made.Text("token"), listed.GetRawText(), StringComparison.Ordinal);
        await owner.SendAsync(HttpMethod.Delete, $"{tokens}/{listed.Text("id")}");
        var (after, _) = await machine.SendAsync(HttpMethod.Get, $"/api/sites/{site}/strip");
        Assert.Equal(HttpStatusCode.Unauthorized, after);
    }
}
