using Microsoft.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore.Design;

namespace Outcry.Store;

/// <summary>Lets the migration tool build the model without a host; it never connects.</summary>
internal sealed class DesignTimeDb : IDesignTimeDbContextFactory<OutcryDb>
{
    public OutcryDb CreateDbContext(string[] args)
    {
        var options = new DbContextOptionsBuilder<OutcryDb>();
        OutcryDb.Configure(options, "Host=127.0.0.1;Database=design");
        return new OutcryDb(options.Options, WorkspaceScope.System);
    }
}
