using System.Reflection;
using Outcry.Tests.Shared;
using Xunit.v3;

[assembly: Running]

namespace Outcry.Tests.Shared;

/// <summary>Notes which tests are under way: a run that comes to no end and has to be ended can say where it stood.</summary>
[AttributeUsage(AttributeTargets.Assembly)]
internal sealed class RunningAttribute : BeforeAfterTestAttribute
{
    private static readonly string? Folder = Environment.GetEnvironmentVariable("OUTCRY_RUNNING");

    public override void Before(MethodInfo methodUnderTest, IXunitTest test)
    {
        if (Folder is not null)
            File.WriteAllText(Path.Combine(Folder, test.UniqueID), test.TestDisplayName);
    }

    public override void After(MethodInfo methodUnderTest, IXunitTest test)
    {
        if (Folder is not null)
            File.Delete(Path.Combine(Folder, test.UniqueID));
    }
}
