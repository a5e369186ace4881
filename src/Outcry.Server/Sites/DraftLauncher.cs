using NodaTime;
using Outcry.Core.Greetings;
using Outcry.Core.Publishing;
using Outcry.Store;
using Outcry.Store.Rows;

namespace Outcry.Server.Sites;

/// <summary>A launcher's draft compiled as if it were live.</summary>
internal static class DraftLauncher
{
    /// <summary>It, or what stands in the way.</summary>
    public static (Launcher? Launcher, string? Problem) TryCompile(DefinitionRow row, LiveSite site, Instant now)
    {
        if (row.Draft.TryRead<LauncherBrief>() is not { } brief)
            return (null, "What is kept of it is damaged.");
        var problem = LauncherKind
            .Instance.Check(brief, site.CheckSetting(now))
            .FirstOrDefault(p => p is { Blocks: true, MayBeStaged: false });
        return problem is null
            ? (LauncherKind.Instance.Compile(row.In(DefinitionState.Live), brief, site.Context), null)
            : (null, problem.Message);
    }
}
