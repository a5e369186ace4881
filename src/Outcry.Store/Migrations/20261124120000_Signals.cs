using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace Outcry.Store.Migrations;

/// <summary>
/// The signals table, which EF does not map: it is partitioned by day, written by COPY and read by aggregates.
/// Day partitions are made by whoever writes the first signal of a day.
/// </summary>
[DbContext(typeof(OutcryDb))]
[Migration("20261124120000_Signals")]
public sealed class Signals : Migration
{
    protected override void Up(MigrationBuilder migrationBuilder) =>
        migrationBuilder.Sql(
            """
            create table signals (
              id uuid not null,
              day date not null,
              site_id uuid not null,
              at timestamptz not null,
              kind smallint not null,
              visitor_id text not null,
              visit integer not null,
              path text not null,
              callout_id uuid null,
              value integer not null,
              device smallint not null,
              primary key (id, day)
            ) partition by range (day);
            create index ix_signals_site_at on signals using brin (site_id, at);
            create index ix_signals_callout on signals (callout_id, kind) where callout_id is not null;
            """
        );

    protected override void Down(MigrationBuilder migrationBuilder) => migrationBuilder.Sql("drop table signals;");
}
