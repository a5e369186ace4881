using System.Reflection;
using System.Xml.Linq;
using NetArchTest.Rules;

namespace Outcry.Server.Tests;

/// <summary>Dependencies point one way: stand-ins to server to store to core.</summary>
public sealed class ArchitectureTests
{
    private static readonly Assembly Core = typeof(Outcry.Core.Planning.Planner).Assembly;

    [Theory]
    [InlineData("Microsoft.EntityFrameworkCore")]
    [InlineData("Microsoft.AspNetCore")]
    [InlineData("Npgsql")]
    [InlineData("System.Net.Http")]
    [InlineData("System.IO.File")]
    [InlineData("Outcry.Store")]
    [InlineData("Outcry.Server")]
    public void The_core_knows_nothing_of(string outside)
    {
        var result = Types.InAssembly(Core).ShouldNot().HaveDependencyOn(outside).GetResult();
        Assert.True(result.IsSuccessful, string.Join(", ", result.FailingTypeNames ?? []));
    }

    [Fact]
    public void The_core_takes_time_and_chance_from_outside()
    {
        var sources = Directory
            .EnumerateFiles(Path.Combine(TestDesk.Root, "src", "Outcry.Core"), "*.cs", SearchOption.AllDirectories)
            .Where(f => !f.Contains("/obj/", StringComparison.Ordinal));
        string[] ambient =
        [
            "SystemClock",
            "DateTime.Now",
            "DateTime.UtcNow",
            "DateTimeOffset.UtcNow",
            "Guid.NewGuid",
            "new Random",
            "Random.Shared",
            "Stopwatch",
        ];
        Assert.All(
            sources,
            f => Assert.DoesNotContain(ambient, a => File.ReadAllText(f).Contains(a, StringComparison.Ordinal))
        );
    }

    [Theory]
    [InlineData("Outcry.Core", new string[0])]
    [InlineData("Outcry.Store", new[] { "Outcry.Core" })]
    [InlineData("Outcry.Server", new[] { "Outcry.Store" })]
    [InlineData("Outcry.Standins", new[] { "Outcry.Server" })]
    public void Each_project_refers_only_to_the_next(string project, string[] to)
    {
        var file = XDocument.Load(Path.Combine(TestDesk.Root, "src", project, $"{project}.csproj"));
        var references = file.Descendants("ProjectReference")
            .Select(r => Path.GetFileNameWithoutExtension(r.Attribute("Include")!.Value));
        Assert.Equal(to, references);
    }

    [Fact]
    public void One_capability_reaches_another_only_through_sites_visitor_and_platform()
    {
        // What these share is offered to all; everything else keeps to itself.
        string[] shared = ["Sites", "Platform", "Visitor", "Live", "Intake", "RunSheet"];
        foreach (var own in new[] { "Ledger", "Callouts", "Install", "Accounts" })
        foreach (var other in new[] { "Ledger", "Callouts", "Install", "Accounts" }.Where(o => o != own))
            Assert.True(
                Types
                    .InAssembly(typeof(Program).Assembly)
                    .That()
                    .ResideInNamespace($"Outcry.Server.{own}")
                    .ShouldNot()
                    .HaveDependencyOn($"Outcry.Server.{other}")
                    .GetResult()
                    .IsSuccessful,
                $"{own} reaches into {other}, which is not one of {string.Join(", ", shared)}"
            );
    }
}
