using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace Outcry.Store.Migrations;

/// <summary>Keeps with the first page view of a visit what else was known of it; EF does not map the signals.</summary>
[DbContext(typeof(OutcryDb))]
[Migration("20261125215500_VisitTraits")]
public sealed class VisitTraits : Migration
{
    protected override void Up(MigrationBuilder migrationBuilder) =>
        migrationBuilder.Sql("alter table signals add column traits jsonb null;");

    protected override void Down(MigrationBuilder migrationBuilder) =>
        migrationBuilder.Sql("alter table signals drop column traits;");
}
