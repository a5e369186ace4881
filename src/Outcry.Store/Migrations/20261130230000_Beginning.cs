using System;
using System.Collections.Generic;
using Microsoft.EntityFrameworkCore.Migrations;
using NodaTime;
using Npgsql.EntityFrameworkCore.PostgreSQL.Metadata;
using NpgsqlTypes;

#nullable disable

namespace Outcry.Store.Migrations
{
    /// <inheritdoc />
    public partial class Beginning : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "answer_groups",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    member_ids = table.Column<List<Guid>>(type: "uuid[]", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_answer_groups", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "backups",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    bytes = table.Column<long>(type: "bigint", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_backups", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "code_pools",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    changed_by = table.Column<string>(type: "text", nullable: false),
                    changed_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    warned_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_code_pools", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "corrections",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    event_id = table.Column<Guid>(type: "uuid", nullable: false),
                    field = table.Column<string>(type: "text", nullable: false),
                    was = table.Column<string>(type: "text", nullable: false),
                    @is = table.Column<string>(name: "is", type: "text", nullable: false),
                    by = table.Column<string>(type: "text", nullable: false),
                    at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_corrections", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "data_protection_keys",
                columns: table => new
                {
                    id = table
                        .Column<int>(type: "integer", nullable: false)
                        .Annotation(
                            "Npgsql:ValueGenerationStrategy",
                            NpgsqlValueGenerationStrategy.IdentityByDefaultColumn
                        ),
                    friendly_name = table.Column<string>(type: "text", nullable: true),
                    xml = table.Column<string>(type: "text", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_data_protection_keys", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "definitions",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    kind = table.Column<string>(type: "text", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    state = table.Column<string>(type: "text", nullable: false),
                    draft = table.Column<string>(type: "jsonb", nullable: false),
                    draft_version = table.Column<int>(type: "integer", nullable: false),
                    revision = table.Column<int>(type: "integer", nullable: false),
                    created_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    changed_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    changed_by = table.Column<string>(type: "text", nullable: false),
                    authors = table.Column<List<Guid>>(type: "uuid[]", nullable: false),
                    group = table.Column<string>(type: "text", nullable: false),
                    deleted_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_definitions", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "deliveries",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    source_id = table.Column<Guid>(type: "uuid", nullable: false),
                    at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    verdict = table.Column<string>(type: "text", nullable: false),
                    status = table.Column<int>(type: "integer", nullable: false),
                    because = table.Column<string>(type: "text", nullable: true),
                    message_id = table.Column<string>(type: "text", nullable: true),
                    content_type = table.Column<string>(type: "text", nullable: true),
                    sealed_body = table.Column<byte[]>(type: "bytea", nullable: false),
                    event_id = table.Column<Guid>(type: "uuid", nullable: true),
                    resend_of = table.Column<Guid>(type: "uuid", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_deliveries", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "erasures",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    by = table.Column<string>(type: "text", nullable: false),
                    found_by = table.Column<string>(type: "text", nullable: false),
                    events = table.Column<int>(type: "integer", nullable: false),
                    visitors = table.Column<int>(type: "integer", nullable: false),
                    deliveries = table.Column<int>(type: "integer", nullable: false),
                    digest = table.Column<string>(type: "text", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_erasures", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "events",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    source_id = table.Column<Guid>(type: "uuid", nullable: false),
                    external_id = table.Column<string>(type: "text", nullable: false),
                    delivery_id = table.Column<string>(type: "text", nullable: true),
                    kind = table.Column<string>(type: "text", nullable: false),
                    at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    received_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    state = table.Column<string>(type: "text", nullable: false),
                    first_name = table.Column<string>(type: "text", nullable: false),
                    last_initial = table.Column<string>(type: "text", nullable: false),
                    masked_name = table.Column<string>(type: "text", nullable: false),
                    masked_email = table.Column<string>(type: "text", nullable: false),
                    masked_phone = table.Column<string>(type: "text", nullable: false),
                    city = table.Column<string>(type: "text", nullable: false),
                    region = table.Column<string>(type: "text", nullable: false),
                    country = table.Column<string>(type: "text", nullable: false),
                    person_key = table.Column<string>(type: "text", nullable: false),
                    visitor_id = table.Column<string>(type: "text", nullable: true),
                    page = table.Column<string>(type: "text", nullable: true),
                    product_name = table.Column<string>(type: "text", nullable: true),
                    product_address = table.Column<string>(type: "text", nullable: true),
                    product_picture = table.Column<string>(type: "text", nullable: true),
                    product_category = table.Column<string>(type: "text", nullable: true),
                    amount = table.Column<decimal>(type: "numeric", nullable: true),
                    currency = table.Column<string>(type: "text", nullable: true),
                    fields = table.Column<string>(type: "jsonb", nullable: false),
                    hidden_by = table.Column<string>(type: "text", nullable: true),
                    phone_key = table.Column<string>(type: "text", nullable: true),
                    held_because = table.Column<string>(type: "text", nullable: true),
                    corrected_by = table.Column<string>(type: "text", nullable: true),
                    corrected_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    deleted_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    deleted_by = table.Column<string>(type: "text", nullable: true),
                    deleted_from = table.Column<string>(type: "text", nullable: true),
                    import_id = table.Column<Guid>(type: "uuid", nullable: true),
                    search = table
                        .Column<NpgsqlTsVector>(type: "tsvector", nullable: false)
                        .Annotation("Npgsql:TsVectorConfig", "simple")
                        .Annotation(
                            "Npgsql:TsVectorProperties",
                            new[] { "first_name", "city", "country", "product_name", "product_category", "page" }
                        ),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_events", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "form_sends",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    key = table.Column<string>(type: "text", nullable: false),
                    page = table.Column<string>(type: "text", nullable: false),
                    at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    visitor_id = table.Column<string>(type: "text", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_form_sends", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "found_forms",
                columns: table => new
                {
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    key = table.Column<string>(type: "text", nullable: false),
                    path = table.Column<string>(type: "text", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    fields = table.Column<string>(type: "jsonb", nullable: false),
                    first_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    last_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey(
                        "pk_found_forms",
                        x => new
                        {
                            x.site_id,
                            x.key,
                            x.path,
                        }
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "heard_hosts",
                columns: table => new
                {
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    host = table.Column<string>(type: "text", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    heard_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    page = table.Column<string>(type: "text", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_heard_hosts", x => new { x.site_id, x.host });
                }
            );

            migrationBuilder.CreateTable(
                name: "identity_roles",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "character varying(256)", maxLength: 256, nullable: true),
                    normalized_name = table.Column<string>(
                        type: "character varying(256)",
                        maxLength: 256,
                        nullable: true
                    ),
                    concurrency_stamp = table.Column<string>(type: "text", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_identity_roles", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "imports",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    source_id = table.Column<Guid>(type: "uuid", nullable: false),
                    file_name = table.Column<string>(type: "text", nullable: false),
                    started_by = table.Column<string>(type: "text", nullable: false),
                    started_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    ended_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    state = table.Column<string>(type: "text", nullable: false),
                    is_dry_run = table.Column<bool>(type: "boolean", nullable: false),
                    read = table.Column<int>(type: "integer", nullable: false),
                    added = table.Column<int>(type: "integer", nullable: false),
                    repeated = table.Column<int>(type: "integer", nullable: false),
                    held = table.Column<int>(type: "integer", nullable: false),
                    left_out = table.Column<int>(type: "integer", nullable: false),
                    rejected = table.Column<int>(type: "integer", nullable: false),
                    because = table.Column<string>(type: "text", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_imports", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "invitations",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    email = table.Column<string>(type: "text", nullable: false),
                    role = table.Column<string>(type: "text", nullable: false),
                    hash = table.Column<byte[]>(type: "bytea", nullable: false),
                    invited_by = table.Column<string>(type: "text", nullable: false),
                    invited_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    ends_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_invitations", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "leads",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    sites = table.Column<List<Guid>>(type: "uuid[]", nullable: false),
                    email = table.Column<string>(type: "text", nullable: true),
                    email_key = table.Column<string>(type: "text", nullable: true),
                    phone = table.Column<string>(type: "text", nullable: true),
                    first_name = table.Column<string>(type: "text", nullable: false),
                    surname = table.Column<string>(type: "text", nullable: false),
                    state = table.Column<string>(type: "text", nullable: false),
                    promises = table.Column<List<Guid>>(type: "uuid[]", nullable: false),
                    withdrawn = table.Column<List<Guid>>(type: "uuid[]", nullable: false),
                    gave_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    changed_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    confirmed_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    withdrawn_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    unreachable_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    answers = table.Column<string>(type: "jsonb", nullable: false),
                    tags = table.Column<List<string>>(type: "text[]", nullable: false),
                    visitors = table.Column<List<string>>(type: "text[]", nullable: false),
                    from = table.Column<string>(type: "text", nullable: false),
                    page = table.Column<string>(type: "text", nullable: false),
                    campaign = table.Column<string>(type: "text", nullable: false),
                    language = table.Column<string>(type: "text", nullable: false),
                    place = table.Column<string>(type: "text", nullable: false),
                    zone = table.Column<string>(type: "text", nullable: false),
                    is_test = table.Column<bool>(type: "boolean", nullable: false),
                    followed_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_leads", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "letters",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    to = table.Column<string>(type: "text", nullable: false),
                    is_text = table.Column<bool>(type: "boolean", nullable: false),
                    lead_id = table.Column<Guid>(type: "uuid", nullable: true),
                    about = table.Column<string>(type: "text", nullable: false),
                    reply_to = table.Column<string>(type: "text", nullable: true),
                    subject = table.Column<string>(type: "text", nullable: false),
                    text = table.Column<string>(type: "text", nullable: false),
                    html = table.Column<string>(type: "text", nullable: true),
                    leave_at = table.Column<string>(type: "text", nullable: true),
                    calendar = table.Column<string>(type: "text", nullable: true),
                    made_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    tries = table.Column<int>(type: "integer", nullable: false),
                    next_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_letters", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "members",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    display_name = table.Column<string>(type: "text", nullable: false),
                    user_name = table.Column<string>(type: "character varying(256)", maxLength: 256, nullable: true),
                    normalized_user_name = table.Column<string>(
                        type: "character varying(256)",
                        maxLength: 256,
                        nullable: true
                    ),
                    email = table.Column<string>(type: "character varying(256)", maxLength: 256, nullable: true),
                    normalized_email = table.Column<string>(
                        type: "character varying(256)",
                        maxLength: 256,
                        nullable: true
                    ),
                    email_confirmed = table.Column<bool>(type: "boolean", nullable: false),
                    password_hash = table.Column<string>(type: "text", nullable: true),
                    security_stamp = table.Column<string>(type: "text", nullable: true),
                    concurrency_stamp = table.Column<string>(type: "text", nullable: true),
                    phone_number = table.Column<string>(type: "character varying(256)", maxLength: 256, nullable: true),
                    phone_number_confirmed = table.Column<bool>(type: "boolean", nullable: false),
                    two_factor_enabled = table.Column<bool>(type: "boolean", nullable: false),
                    lockout_end = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    lockout_enabled = table.Column<bool>(type: "boolean", nullable: false),
                    access_failed_count = table.Column<int>(type: "integer", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_members", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "page_groups",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    includes = table.Column<List<string>>(type: "text[]", nullable: false),
                    excludes = table.Column<List<string>>(type: "text[]", nullable: false),
                    position = table.Column<int>(type: "integer", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_page_groups", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "pictures",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    media_type = table.Column<string>(type: "text", nullable: false),
                    width = table.Column<int>(type: "integer", nullable: false),
                    height = table.Column<int>(type: "integer", nullable: false),
                    is_moving = table.Column<bool>(type: "boolean", nullable: false),
                    bytes = table.Column<byte[]>(type: "bytea", nullable: false),
                    hash = table.Column<byte[]>(type: "bytea", nullable: false),
                    fetched_from = table.Column<string>(type: "text", nullable: true),
                    added_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    added_by = table.Column<string>(type: "text", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_pictures", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "places",
                columns: table => new
                {
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    path = table.Column<string>(type: "text", nullable: false),
                    selector = table.Column<string>(type: "text", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    found = table.Column<bool>(type: "boolean", nullable: false),
                    in_view = table.Column<bool>(type: "boolean", nullable: false),
                    at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey(
                        "pk_places",
                        x => new
                        {
                            x.site_id,
                            x.path,
                            x.selector,
                        }
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "points",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    selector = table.Column<string>(type: "text", nullable: false),
                    label = table.Column<string>(type: "text", nullable: false),
                    path = table.Column<string>(type: "text", nullable: false),
                    matches = table.Column<int>(type: "integer", nullable: false),
                    at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_points", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "promises",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    language = table.Column<string>(type: "text", nullable: false),
                    text = table.Column<string>(type: "text", nullable: false),
                    hash = table.Column<byte[]>(type: "bytea", nullable: false),
                    number = table.Column<int>(type: "integer", nullable: false),
                    first_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_promises", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "rejects",
                columns: table => new
                {
                    import_id = table.Column<Guid>(type: "uuid", nullable: false),
                    row = table.Column<int>(type: "integer", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    field = table.Column<string>(type: "text", nullable: false),
                    because = table.Column<string>(type: "text", nullable: false),
                    original = table.Column<string>(type: "text", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_rejects", x => new { x.import_id, x.row });
                }
            );

            migrationBuilder.CreateTable(
                name: "reviews",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    definition_id = table.Column<Guid>(type: "uuid", nullable: false),
                    state = table.Column<string>(type: "text", nullable: false),
                    asked_by_id = table.Column<Guid>(type: "uuid", nullable: false),
                    asked_by = table.Column<string>(type: "text", nullable: false),
                    of_id = table.Column<Guid>(type: "uuid", nullable: true),
                    sentence = table.Column<string>(type: "text", nullable: false),
                    asked_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    decided_by = table.Column<string>(type: "text", nullable: true),
                    decided_by_id = table.Column<Guid>(type: "uuid", nullable: true),
                    decided_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    approved_version = table.Column<int>(type: "integer", nullable: true),
                    undone_by = table.Column<string>(type: "text", nullable: true),
                    notes = table.Column<string>(type: "jsonb", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_reviews", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "reward_files",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    media_type = table.Column<string>(type: "text", nullable: false),
                    bytes = table.Column<byte[]>(type: "bytea", nullable: false),
                    added_by = table.Column<string>(type: "text", nullable: false),
                    added_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_reward_files", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "saved_replies",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    shortcut = table.Column<string>(type: "text", nullable: false),
                    text = table.Column<string>(type: "text", nullable: false),
                    changed_by = table.Column<string>(type: "text", nullable: false),
                    changed_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_saved_replies", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "saved_views",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    query = table.Column<string>(type: "text", nullable: false),
                    by = table.Column<string>(type: "text", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_saved_views", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "segments",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    rule = table.Column<string>(type: "jsonb", nullable: false),
                    changed_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    changed_by = table.Column<string>(type: "text", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_segments", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "shops",
                columns: table => new
                {
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    key = table.Column<string>(type: "text", nullable: false),
                    created_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    name = table.Column<string>(type: "text", nullable: true),
                    connected_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    heard_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    refused_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    refused_because = table.Column<string>(type: "text", nullable: true),
                    orders_id = table.Column<Guid>(type: "uuid", nullable: true),
                    stock_id = table.Column<Guid>(type: "uuid", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_shops", x => x.site_id);
                }
            );

            migrationBuilder.CreateTable(
                name: "sites",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    key = table.Column<string>(type: "text", nullable: false),
                    home_address = table.Column<string>(type: "text", nullable: false),
                    allowed_hosts = table.Column<List<string>>(type: "text[]", nullable: false),
                    time_zone = table.Column<string>(type: "text", nullable: false),
                    rules = table.Column<string>(type: "jsonb", nullable: false),
                    off_air = table.Column<bool>(type: "boolean", nullable: false),
                    switched_by = table.Column<string>(type: "text", nullable: true),
                    switched_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    passport_key = table.Column<byte[]>(type: "bytea", nullable: false),
                    previous_passport_key = table.Column<byte[]>(type: "bytea", nullable: true),
                    link_key = table.Column<byte[]>(type: "bytea", nullable: false),
                    previous_link_key = table.Column<byte[]>(type: "bytea", nullable: true),
                    person_key = table.Column<byte[]>(type: "bytea", nullable: false),
                    heard_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    heard_page = table.Column<string>(type: "text", nullable: true),
                    created_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    kit = table.Column<string>(type: "jsonb", nullable: true),
                    language = table.Column<string>(type: "text", nullable: false),
                    nouns = table.Column<string>(type: "jsonb", nullable: false),
                    own_words = table.Column<string>(type: "jsonb", nullable: false),
                    test_hosts = table.Column<List<string>>(type: "text[]", nullable: false),
                    consent = table.Column<string>(type: "text", nullable: false),
                    keeps = table.Column<string>(type: "jsonb", nullable: false),
                    words = table.Column<string>(type: "jsonb", nullable: false),
                    words_due = table.Column<List<string>>(type: "text[]", nullable: false),
                    words_due_after = table.Column<Guid>(type: "uuid", nullable: true),
                    identity_secret = table.Column<byte[]>(type: "bytea", nullable: false),
                    fetched_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    fetched_from = table.Column<string>(type: "text", nullable: true),
                    removed_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    removed_by = table.Column<string>(type: "text", nullable: true),
                    refused_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    refused_host = table.Column<string>(type: "text", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_sites", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "sources",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    kind = table.Column<string>(type: "text", nullable: false),
                    event_kind = table.Column<string>(type: "text", nullable: false),
                    secret = table.Column<string>(type: "text", nullable: true),
                    proof = table.Column<string>(type: "text", nullable: false, defaultValue: "Signature"),
                    form = table.Column<string>(type: "jsonb", nullable: true),
                    display = table.Column<string>(type: "jsonb", nullable: false),
                    created_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    refused_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    refused_because = table.Column<string>(type: "text", nullable: true),
                    previous_secret = table.Column<string>(type: "text", nullable: true),
                    previous_secret_until = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    map = table.Column<string>(type: "jsonb", nullable: true),
                    rules = table.Column<string>(type: "jsonb", nullable: false),
                    poll = table.Column<string>(type: "jsonb", nullable: true),
                    script = table.Column<string>(type: "jsonb", nullable: true),
                    paused_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    polled_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    deleted_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_sources", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "talks",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    visitor_id = table.Column<string>(type: "text", nullable: false),
                    launcher_id = table.Column<Guid>(type: "uuid", nullable: false),
                    channel_id = table.Column<Guid>(type: "uuid", nullable: false),
                    before_id = table.Column<Guid>(type: "uuid", nullable: true),
                    merged_into_id = table.Column<Guid>(type: "uuid", nullable: true),
                    is_test = table.Column<bool>(type: "boolean", nullable: false),
                    key_hashes = table.Column<List<byte[]>>(type: "bytea[]", nullable: false),
                    state = table.Column<string>(type: "text", nullable: false),
                    member_id = table.Column<Guid>(type: "uuid", nullable: true),
                    snoozed_until = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    closed_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    reason = table.Column<string>(type: "text", nullable: false),
                    waiting_since = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    given_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    alarmed_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    begun_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    last_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    answered_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    last = table.Column<int>(type: "integer", nullable: false),
                    seen_by_visitor = table.Column<int>(type: "integer", nullable: false),
                    seen_by_team = table.Column<int>(type: "integer", nullable: false),
                    mailed_up_to = table.Column<int>(type: "integer", nullable: false),
                    glimpse = table.Column<string>(type: "text", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    email = table.Column<string>(type: "text", nullable: true),
                    agreed_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    language = table.Column<string>(type: "text", nullable: false),
                    page = table.Column<string>(type: "text", nullable: false),
                    greeting = table.Column<string>(type: "text", nullable: false),
                    place = table.Column<string>(type: "text", nullable: false),
                    tags = table.Column<List<string>>(type: "text[]", nullable: false),
                    group_id = table.Column<Guid>(type: "uuid", nullable: true),
                    person = table.Column<byte[]>(type: "bytea", nullable: true),
                    script_id = table.Column<Guid>(type: "uuid", nullable: true),
                    script_revision = table.Column<int>(type: "integer", nullable: false),
                    script = table.Column<string>(type: "jsonb", nullable: true),
                    script_ends_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    told_late_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    is_blocked = table.Column<bool>(type: "boolean", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_talks", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "tokens",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    scopes = table.Column<string>(type: "jsonb", nullable: false),
                    hash = table.Column<byte[]>(type: "bytea", nullable: false),
                    begins = table.Column<string>(type: "text", nullable: false),
                    made_by = table.Column<string>(type: "text", nullable: false),
                    made_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    used_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    ended_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_tokens", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "tombstones",
                columns: table => new
                {
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    key = table.Column<string>(type: "text", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_tombstones", x => new { x.site_id, x.key });
                }
            );

            migrationBuilder.CreateTable(
                name: "traces",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    about_site = table.Column<Guid>(type: "uuid", nullable: true),
                    at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    member_id = table.Column<Guid>(type: "uuid", nullable: true),
                    by = table.Column<string>(type: "text", nullable: false),
                    act = table.Column<string>(type: "text", nullable: false),
                    subject = table.Column<string>(type: "text", nullable: false),
                    link = table.Column<string>(type: "text", nullable: false),
                    changes = table.Column<string>(type: "jsonb", nullable: false),
                    device = table.Column<string>(type: "text", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_traces", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "visitors",
                columns: table => new
                {
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    visitor_id = table.Column<string>(type: "text", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    first_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    last_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    attributes = table.Column<string>(type: "jsonb", nullable: false),
                    is_signed = table.Column<bool>(type: "boolean", nullable: false),
                    person = table.Column<byte[]>(type: "bytea", nullable: true),
                    email_key = table.Column<string>(type: "text", nullable: true),
                    phone_key = table.Column<string>(type: "text", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_visitors", x => new { x.site_id, x.visitor_id });
                }
            );

            migrationBuilder.CreateTable(
                name: "webhooks",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    address = table.Column<string>(type: "text", nullable: false),
                    secret = table.Column<string>(type: "text", nullable: false),
                    words = table.Column<string[]>(type: "text[]", nullable: false),
                    off_because = table.Column<string>(type: "text", nullable: false),
                    changed_by = table.Column<string>(type: "text", nullable: false),
                    changed_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_webhooks", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "workspaces",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    created_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    habits = table.Column<string>(type: "jsonb", nullable: false),
                    limits = table.Column<string>(type: "jsonb", nullable: false),
                    limit_warned = table.Column<string>(type: "text", nullable: true),
                    limit_reached = table.Column<string>(type: "text", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_workspaces", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "codes",
                columns: table => new
                {
                    pool_id = table.Column<Guid>(type: "uuid", nullable: false),
                    code = table.Column<string>(type: "text", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    yes_id = table.Column<Guid>(type: "uuid", nullable: true),
                    given_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_codes", x => new { x.pool_id, x.code });
                    table.ForeignKey(
                        name: "fk_codes_code_pools_pool_id",
                        column: x => x.pool_id,
                        principalTable: "code_pools",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "revisions",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    definition_id = table.Column<Guid>(type: "uuid", nullable: false),
                    number = table.Column<int>(type: "integer", nullable: false),
                    content = table.Column<string>(type: "jsonb", nullable: false),
                    published_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    published_by = table.Column<string>(type: "text", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_revisions", x => x.id);
                    table.ForeignKey(
                        name: "fk_revisions_definitions_definition_id",
                        column: x => x.definition_id,
                        principalTable: "definitions",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "identity_role_claims",
                columns: table => new
                {
                    id = table
                        .Column<int>(type: "integer", nullable: false)
                        .Annotation(
                            "Npgsql:ValueGenerationStrategy",
                            NpgsqlValueGenerationStrategy.IdentityByDefaultColumn
                        ),
                    role_id = table.Column<Guid>(type: "uuid", nullable: false),
                    claim_type = table.Column<string>(type: "text", nullable: true),
                    claim_value = table.Column<string>(type: "text", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_identity_role_claims", x => x.id);
                    table.ForeignKey(
                        name: "fk_identity_role_claims_identity_roles_role_id",
                        column: x => x.role_id,
                        principalTable: "identity_roles",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "follow_runs",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    follow_up_id = table.Column<Guid>(type: "uuid", nullable: false),
                    revision = table.Column<int>(type: "integer", nullable: false),
                    lead_id = table.Column<Guid>(type: "uuid", nullable: false),
                    at = table.Column<int>(type: "integer", nullable: false),
                    step_id = table.Column<Guid>(type: "uuid", nullable: true),
                    passed = table.Column<List<Guid>>(type: "uuid[]", nullable: false),
                    begun_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    since = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    due_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    ended_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    end = table.Column<string>(type: "text", nullable: true),
                    desk = table.Column<string>(type: "text", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_follow_runs", x => x.id);
                    table.ForeignKey(
                        name: "fk_follow_runs_leads_lead_id",
                        column: x => x.lead_id,
                        principalTable: "leads",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "lead_mails",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    lead_id = table.Column<Guid>(type: "uuid", nullable: false),
                    subject = table.Column<string>(type: "text", nullable: false),
                    is_text = table.Column<bool>(type: "boolean", nullable: false),
                    state = table.Column<string>(type: "text", nullable: false),
                    at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    changed_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_lead_mails", x => x.id);
                    table.ForeignKey(
                        name: "fk_lead_mails_leads_lead_id",
                        column: x => x.lead_id,
                        principalTable: "leads",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "lead_yeses",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    lead_id = table.Column<Guid>(type: "uuid", nullable: false),
                    callout_id = table.Column<Guid>(type: "uuid", nullable: false),
                    revision = table.Column<int>(type: "integer", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    promise_id = table.Column<Guid>(type: "uuid", nullable: true),
                    ticked = table.Column<bool>(type: "boolean", nullable: false),
                    language = table.Column<string>(type: "text", nullable: false),
                    page = table.Column<string>(type: "text", nullable: false),
                    visitor_id = table.Column<string>(type: "text", nullable: false),
                    at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    answers = table.Column<string>(type: "jsonb", nullable: false),
                    confirmed_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    asked_at = table.Column<List<Instant>>(type: "timestamp with time zone[]", nullable: false),
                    code = table.Column<string>(type: "text", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_lead_yeses", x => x.id);
                    table.ForeignKey(
                        name: "fk_lead_yeses_leads_lead_id",
                        column: x => x.lead_id,
                        principalTable: "leads",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "devices",
                columns: table => new
                {
                    member_id = table.Column<Guid>(type: "uuid", nullable: false),
                    hash = table.Column<byte[]>(type: "bytea", nullable: false),
                    first_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_devices", x => new { x.member_id, x.hash });
                    table.ForeignKey(
                        name: "fk_devices_members_member_id",
                        column: x => x.member_id,
                        principalTable: "members",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "identity_member_claims",
                columns: table => new
                {
                    id = table
                        .Column<int>(type: "integer", nullable: false)
                        .Annotation(
                            "Npgsql:ValueGenerationStrategy",
                            NpgsqlValueGenerationStrategy.IdentityByDefaultColumn
                        ),
                    user_id = table.Column<Guid>(type: "uuid", nullable: false),
                    claim_type = table.Column<string>(type: "text", nullable: true),
                    claim_value = table.Column<string>(type: "text", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_identity_member_claims", x => x.id);
                    table.ForeignKey(
                        name: "fk_identity_member_claims_members_user_id",
                        column: x => x.user_id,
                        principalTable: "members",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "identity_member_logins",
                columns: table => new
                {
                    login_provider = table.Column<string>(
                        type: "character varying(128)",
                        maxLength: 128,
                        nullable: false
                    ),
                    provider_key = table.Column<string>(
                        type: "character varying(128)",
                        maxLength: 128,
                        nullable: false
                    ),
                    provider_display_name = table.Column<string>(type: "text", nullable: true),
                    user_id = table.Column<Guid>(type: "uuid", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_identity_member_logins", x => new { x.login_provider, x.provider_key });
                    table.ForeignKey(
                        name: "fk_identity_member_logins_members_user_id",
                        column: x => x.user_id,
                        principalTable: "members",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "identity_member_passkeys",
                columns: table => new
                {
                    credential_id = table.Column<byte[]>(type: "bytea", maxLength: 1024, nullable: false),
                    user_id = table.Column<Guid>(type: "uuid", nullable: false),
                    data = table.Column<string>(type: "jsonb", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_identity_member_passkeys", x => x.credential_id);
                    table.ForeignKey(
                        name: "fk_identity_member_passkeys_members_user_id",
                        column: x => x.user_id,
                        principalTable: "members",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "identity_member_roles",
                columns: table => new
                {
                    user_id = table.Column<Guid>(type: "uuid", nullable: false),
                    role_id = table.Column<Guid>(type: "uuid", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_identity_member_roles", x => new { x.user_id, x.role_id });
                    table.ForeignKey(
                        name: "fk_identity_member_roles_identity_roles_role_id",
                        column: x => x.role_id,
                        principalTable: "identity_roles",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade
                    );
                    table.ForeignKey(
                        name: "fk_identity_member_roles_members_user_id",
                        column: x => x.user_id,
                        principalTable: "members",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "identity_member_tokens",
                columns: table => new
                {
                    user_id = table.Column<Guid>(type: "uuid", nullable: false),
                    login_provider = table.Column<string>(
                        type: "character varying(128)",
                        maxLength: 128,
                        nullable: false
                    ),
                    name = table.Column<string>(type: "character varying(128)", maxLength: 128, nullable: false),
                    value = table.Column<string>(type: "text", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey(
                        "pk_identity_member_tokens",
                        x => new
                        {
                            x.user_id,
                            x.login_provider,
                            x.name,
                        }
                    );
                    table.ForeignKey(
                        name: "fk_identity_member_tokens_members_user_id",
                        column: x => x.user_id,
                        principalTable: "members",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "memberships",
                columns: table => new
                {
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    member_id = table.Column<Guid>(type: "uuid", nullable: false),
                    role = table.Column<string>(type: "text", nullable: false),
                    is_away = table.Column<bool>(type: "boolean", nullable: false),
                    joined_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_memberships", x => new { x.workspace_id, x.member_id });
                    table.ForeignKey(
                        name: "fk_memberships_members_member_id",
                        column: x => x.member_id,
                        principalTable: "members",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "sessions",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    member_id = table.Column<Guid>(type: "uuid", nullable: false),
                    started_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    seen_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    device = table.Column<string>(type: "text", nullable: false),
                    had_factor = table.Column<bool>(type: "boolean", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_sessions", x => x.id);
                    table.ForeignKey(
                        name: "fk_sessions_members_member_id",
                        column: x => x.member_id,
                        principalTable: "members",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "bookings",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    site_id = table.Column<Guid>(type: "uuid", nullable: false),
                    talk_id = table.Column<Guid>(type: "uuid", nullable: false),
                    script_id = table.Column<Guid>(type: "uuid", nullable: false),
                    step_id = table.Column<Guid>(type: "uuid", nullable: false),
                    starts_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    minutes = table.Column<int>(type: "integer", nullable: false),
                    chosen_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    invited_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    email = table.Column<string>(type: "text", nullable: true),
                    cancelled_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_bookings", x => x.id);
                    table.ForeignKey(
                        name: "fk_bookings_talks_talk_id",
                        column: x => x.talk_id,
                        principalTable: "talks",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "talk_files",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    talk_id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    media_type = table.Column<string>(type: "text", nullable: false),
                    bytes = table.Column<byte[]>(type: "bytea", nullable: false),
                    is_of_visitor = table.Column<bool>(type: "boolean", nullable: false),
                    at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_talk_files", x => x.id);
                    table.ForeignKey(
                        name: "fk_talk_files_talks_talk_id",
                        column: x => x.talk_id,
                        principalTable: "talks",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "talk_words",
                columns: table => new
                {
                    talk_id = table.Column<Guid>(type: "uuid", nullable: false),
                    number = table.Column<int>(type: "integer", nullable: false),
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    by = table.Column<string>(type: "text", nullable: false),
                    @for = table.Column<string>(name: "for", type: "text", nullable: false),
                    member_id = table.Column<Guid>(type: "uuid", nullable: true),
                    name = table.Column<string>(type: "text", nullable: false),
                    text = table.Column<string>(type: "text", nullable: false),
                    at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    replies = table.Column<List<string>>(type: "text[]", nullable: false),
                    link = table.Column<string>(type: "text", nullable: false),
                    pause_ms = table.Column<int>(type: "integer", nullable: false),
                    file = table.Column<string>(type: "jsonb", nullable: true),
                    mentions = table.Column<List<Guid>>(type: "uuid[]", nullable: false),
                    searched_as = table.Column<string>(type: "text", nullable: false),
                    search = table.Column<NpgsqlTsVector>(
                        type: "tsvector",
                        nullable: false,
                        computedColumnSql: "case searched_as when 'arabic' then to_tsvector('arabic', text) when 'catalan' then to_tsvector('catalan', text) when 'danish' then to_tsvector('danish', text) when 'dutch' then to_tsvector('dutch', text) when 'english' then to_tsvector('english', text) when 'finnish' then to_tsvector('finnish', text) when 'french' then to_tsvector('french', text) when 'german' then to_tsvector('german', text) when 'greek' then to_tsvector('greek', text) when 'hungarian' then to_tsvector('hungarian', text) when 'italian' then to_tsvector('italian', text) when 'norwegian' then to_tsvector('norwegian', text) when 'portuguese' then to_tsvector('portuguese', text) when 'romanian' then to_tsvector('romanian', text) when 'russian' then to_tsvector('russian', text) when 'simple' then to_tsvector('simple', text) when 'spanish' then to_tsvector('spanish', text) when 'swedish' then to_tsvector('swedish', text) when 'turkish' then to_tsvector('turkish', text) else to_tsvector('simple', text) end",
                        stored: true
                    ),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_talk_words", x => new { x.talk_id, x.number });
                    table.ForeignKey(
                        name: "fk_talk_words_talks_talk_id",
                        column: x => x.talk_id,
                        principalTable: "talks",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "webhook_messages",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    workspace_id = table.Column<Guid>(type: "uuid", nullable: false),
                    webhook_id = table.Column<Guid>(type: "uuid", nullable: false),
                    word = table.Column<string>(type: "text", nullable: false),
                    body = table.Column<string>(type: "text", nullable: false),
                    made_at = table.Column<Instant>(type: "timestamp with time zone", nullable: false),
                    tries = table.Column<int>(type: "integer", nullable: false),
                    next_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    taken_at = table.Column<Instant>(type: "timestamp with time zone", nullable: true),
                    status = table.Column<int>(type: "integer", nullable: true),
                    says = table.Column<string>(type: "text", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_webhook_messages", x => x.id);
                    table.ForeignKey(
                        name: "fk_webhook_messages_webhooks_webhook_id",
                        column: x => x.webhook_id,
                        principalTable: "webhooks",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade
                    );
                }
            );

            migrationBuilder.CreateIndex(
                name: "ix_answer_groups_workspace_id_name",
                table: "answer_groups",
                columns: new[] { "workspace_id", "name" },
                unique: true
            );

            migrationBuilder.CreateIndex(
                name: "ix_bookings_step_id_starts_at",
                table: "bookings",
                columns: new[] { "step_id", "starts_at" },
                unique: true,
                filter: "cancelled_at is null"
            );

            migrationBuilder.CreateIndex(name: "ix_bookings_talk_id", table: "bookings", column: "talk_id");

            migrationBuilder.CreateIndex(name: "ix_code_pools_site_id", table: "code_pools", column: "site_id");

            migrationBuilder.CreateIndex(
                name: "ix_codes_pool_id",
                table: "codes",
                column: "pool_id",
                filter: "yes_id is null"
            );

            migrationBuilder.CreateIndex(
                name: "ix_codes_yes_id",
                table: "codes",
                column: "yes_id",
                unique: true,
                filter: "yes_id is not null"
            );

            migrationBuilder.CreateIndex(name: "ix_corrections_event_id", table: "corrections", column: "event_id");

            migrationBuilder.CreateIndex(
                name: "ix_definitions_site_id_kind",
                table: "definitions",
                columns: new[] { "site_id", "kind" }
            );

            migrationBuilder.CreateIndex(name: "ix_deliveries_event_id", table: "deliveries", column: "event_id");

            migrationBuilder.CreateIndex(
                name: "ix_deliveries_source_id_at",
                table: "deliveries",
                columns: new[] { "source_id", "at" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_erasures_site_id_at",
                table: "erasures",
                columns: new[] { "site_id", "at" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_events_deleted_at",
                table: "events",
                column: "deleted_at",
                filter: "deleted_at is not null"
            );

            migrationBuilder.CreateIndex(
                name: "ix_events_once",
                table: "events",
                columns: new[] { "source_id", "external_id" },
                unique: true
            );

            migrationBuilder.CreateIndex(
                name: "ix_events_person_key_at",
                table: "events",
                columns: new[] { "person_key", "at" }
            );

            migrationBuilder
                .CreateIndex(name: "ix_events_search", table: "events", column: "search")
                .Annotation("Npgsql:IndexMethod", "gin");

            migrationBuilder.CreateIndex(
                name: "ix_events_site_id_at_id",
                table: "events",
                columns: new[] { "site_id", "at", "id" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_events_site_id_phone_key",
                table: "events",
                columns: new[] { "site_id", "phone_key" },
                filter: "phone_key is not null"
            );

            migrationBuilder.CreateIndex(
                name: "ix_events_source_at",
                table: "events",
                columns: new[] { "source_id", "at", "id" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_events_source_id_delivery_id",
                table: "events",
                columns: new[] { "source_id", "delivery_id" },
                unique: true
            );

            migrationBuilder.CreateIndex(
                name: "ix_events_unusual",
                table: "events",
                columns: new[] { "site_id", "state", "at" },
                filter: "state <> 'Usable'"
            );

            migrationBuilder.CreateIndex(
                name: "ix_follow_runs_due_at",
                table: "follow_runs",
                column: "due_at",
                filter: "due_at is not null"
            );

            migrationBuilder.CreateIndex(
                name: "ix_follow_runs_follow_up_id_lead_id",
                table: "follow_runs",
                columns: new[] { "follow_up_id", "lead_id" },
                unique: true
            );

            migrationBuilder.CreateIndex(name: "ix_follow_runs_lead_id", table: "follow_runs", column: "lead_id");

            migrationBuilder.CreateIndex(
                name: "ix_form_sends_site_id_key_at",
                table: "form_sends",
                columns: new[] { "site_id", "key", "at" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_identity_member_claims_user_id",
                table: "identity_member_claims",
                column: "user_id"
            );

            migrationBuilder.CreateIndex(
                name: "ix_identity_member_logins_user_id",
                table: "identity_member_logins",
                column: "user_id"
            );

            migrationBuilder.CreateIndex(
                name: "ix_identity_member_passkeys_user_id",
                table: "identity_member_passkeys",
                column: "user_id"
            );

            migrationBuilder.CreateIndex(
                name: "ix_identity_member_roles_role_id",
                table: "identity_member_roles",
                column: "role_id"
            );

            migrationBuilder.CreateIndex(
                name: "ix_identity_role_claims_role_id",
                table: "identity_role_claims",
                column: "role_id"
            );

            migrationBuilder.CreateIndex(
                name: "RoleNameIndex",
                table: "identity_roles",
                column: "normalized_name",
                unique: true
            );

            migrationBuilder.CreateIndex(
                name: "ix_imports_site_id_started_at",
                table: "imports",
                columns: new[] { "site_id", "started_at" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_invitations_hash",
                table: "invitations",
                column: "hash",
                unique: true
            );

            migrationBuilder.CreateIndex(
                name: "ix_invitations_workspace_id_email",
                table: "invitations",
                columns: new[] { "workspace_id", "email" },
                unique: true
            );

            migrationBuilder.CreateIndex(name: "ix_lead_mails_at", table: "lead_mails", column: "at");

            migrationBuilder.CreateIndex(
                name: "ix_lead_mails_lead_id_at",
                table: "lead_mails",
                columns: new[] { "lead_id", "at" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_lead_yeses_callout_id_at",
                table: "lead_yeses",
                columns: new[] { "callout_id", "at" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_lead_yeses_lead_id_at",
                table: "lead_yeses",
                columns: new[] { "lead_id", "at" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_lead_yeses_site_id_visitor_id",
                table: "lead_yeses",
                columns: new[] { "site_id", "visitor_id" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_leads_workspace_id_changed_at_id",
                table: "leads",
                columns: new[] { "workspace_id", "changed_at", "id" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_leads_workspace_id_email_key",
                table: "leads",
                columns: new[] { "workspace_id", "email_key" },
                unique: true,
                filter: "email_key is not null"
            );

            migrationBuilder.CreateIndex(
                name: "ix_leads_workspace_id_phone",
                table: "leads",
                columns: new[] { "workspace_id", "phone" },
                filter: "phone is not null"
            );

            migrationBuilder.CreateIndex(name: "ix_letters_next_at", table: "letters", column: "next_at");

            migrationBuilder.CreateIndex(
                name: "ix_letters_site_id_about_to",
                table: "letters",
                columns: new[] { "site_id", "about", "to" },
                unique: true
            );

            migrationBuilder.CreateIndex(name: "EmailIndex", table: "members", column: "normalized_email");

            migrationBuilder.CreateIndex(
                name: "UserNameIndex",
                table: "members",
                column: "normalized_user_name",
                unique: true
            );

            migrationBuilder.CreateIndex(name: "ix_memberships_member_id", table: "memberships", column: "member_id");

            migrationBuilder.CreateIndex(
                name: "ix_page_groups_name",
                table: "page_groups",
                columns: new[] { "site_id", "name" },
                unique: true
            );

            migrationBuilder.CreateIndex(
                name: "ix_page_groups_site_id_position",
                table: "page_groups",
                columns: new[] { "site_id", "position" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_pictures_site_id_hash",
                table: "pictures",
                columns: new[] { "site_id", "hash" },
                unique: true
            );

            migrationBuilder.CreateIndex(
                name: "ix_points_site_id_at",
                table: "points",
                columns: new[] { "site_id", "at" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_promises_workspace_id_hash",
                table: "promises",
                columns: new[] { "workspace_id", "hash" },
                unique: true
            );

            migrationBuilder.CreateIndex(
                name: "ix_reviews_definition_id",
                table: "reviews",
                column: "definition_id",
                unique: true,
                filter: "state in ('Asked', 'Approved')"
            );

            migrationBuilder.CreateIndex(
                name: "ix_reviews_site_id_state",
                table: "reviews",
                columns: new[] { "site_id", "state" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_revisions_definition_id_number",
                table: "revisions",
                columns: new[] { "definition_id", "number" },
                unique: true
            );

            migrationBuilder.CreateIndex(name: "ix_reward_files_site_id", table: "reward_files", column: "site_id");

            migrationBuilder.CreateIndex(
                name: "ix_saved_replies_site_id_shortcut",
                table: "saved_replies",
                columns: new[] { "site_id", "shortcut" },
                unique: true
            );

            migrationBuilder.CreateIndex(
                name: "ix_saved_views_site_id_name",
                table: "saved_views",
                columns: new[] { "site_id", "name" },
                unique: true
            );

            migrationBuilder.CreateIndex(
                name: "ix_segments_name",
                table: "segments",
                columns: new[] { "site_id", "name" },
                unique: true
            );

            migrationBuilder.CreateIndex(name: "ix_sessions_member_id", table: "sessions", column: "member_id");

            migrationBuilder.CreateIndex(name: "ix_sites_key", table: "sites", column: "key", unique: true);

            migrationBuilder.CreateIndex(name: "ix_sources_site_id", table: "sources", column: "site_id");

            migrationBuilder.CreateIndex(
                name: "ix_talk_files_talk_id_at",
                table: "talk_files",
                columns: new[] { "talk_id", "at" }
            );

            migrationBuilder
                .CreateIndex(name: "ix_talk_words_search", table: "talk_words", column: "search")
                .Annotation("Npgsql:IndexMethod", "gin");

            migrationBuilder.CreateIndex(
                name: "ix_talk_words_talk_id_id",
                table: "talk_words",
                columns: new[] { "talk_id", "id" },
                unique: true
            );

            migrationBuilder.CreateIndex(
                name: "ix_talks_script_ends_at",
                table: "talks",
                column: "script_ends_at",
                filter: "script_ends_at is not null"
            );

            migrationBuilder.CreateIndex(
                name: "ix_talks_site_id_person",
                table: "talks",
                columns: new[] { "site_id", "person" },
                filter: "person is not null"
            );

            migrationBuilder.CreateIndex(
                name: "ix_talks_site_id_state_last_at",
                table: "talks",
                columns: new[] { "site_id", "state", "last_at" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_talks_site_id_visitor_id",
                table: "talks",
                columns: new[] { "site_id", "visitor_id" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_talks_snoozed_until",
                table: "talks",
                column: "snoozed_until",
                filter: "snoozed_until is not null"
            );

            migrationBuilder.CreateIndex(
                name: "ix_talks_waiting_since",
                table: "talks",
                column: "waiting_since",
                filter: "waiting_since is not null"
            );

            migrationBuilder.CreateIndex(name: "ix_tokens_hash", table: "tokens", column: "hash", unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_traces_workspace_id_id",
                table: "traces",
                columns: new[] { "workspace_id", "id" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_visitors_site_id_email_key",
                table: "visitors",
                columns: new[] { "site_id", "email_key" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_webhook_messages_next_at",
                table: "webhook_messages",
                column: "next_at",
                filter: "next_at is not null"
            );

            migrationBuilder.CreateIndex(
                name: "ix_webhook_messages_webhook_id_made_at",
                table: "webhook_messages",
                columns: new[] { "webhook_id", "made_at" }
            );

            migrationBuilder.CreateIndex(name: "ix_webhooks_site_id", table: "webhooks", column: "site_id");

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
                  is_test boolean not null default false,
                  traits jsonb null,
                  host text null,
                  query text null
                ) partition by range (day);
                create index ix_signals_site_at on signals using brin (site_id, at);
                create index ix_signals_callout on signals (callout_id, kind) where callout_id is not null;
                create function refuse_change() returns trigger language plpgsql as $$
                begin
                  raise exception 'what was done cannot be changed afterwards';
                end $$;
                create trigger traces_stay before update or delete or truncate on traces
                  for each statement execute function refuse_change();
                """
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.Sql(
                "drop trigger traces_stay on traces; drop function refuse_change; drop table signals;"
            );

            migrationBuilder.DropTable(name: "answer_groups");

            migrationBuilder.DropTable(name: "backups");

            migrationBuilder.DropTable(name: "bookings");

            migrationBuilder.DropTable(name: "codes");

            migrationBuilder.DropTable(name: "corrections");

            migrationBuilder.DropTable(name: "data_protection_keys");

            migrationBuilder.DropTable(name: "deliveries");

            migrationBuilder.DropTable(name: "devices");

            migrationBuilder.DropTable(name: "erasures");

            migrationBuilder.DropTable(name: "events");

            migrationBuilder.DropTable(name: "follow_runs");

            migrationBuilder.DropTable(name: "form_sends");

            migrationBuilder.DropTable(name: "found_forms");

            migrationBuilder.DropTable(name: "heard_hosts");

            migrationBuilder.DropTable(name: "identity_member_claims");

            migrationBuilder.DropTable(name: "identity_member_logins");

            migrationBuilder.DropTable(name: "identity_member_passkeys");

            migrationBuilder.DropTable(name: "identity_member_roles");

            migrationBuilder.DropTable(name: "identity_member_tokens");

            migrationBuilder.DropTable(name: "identity_role_claims");

            migrationBuilder.DropTable(name: "imports");

            migrationBuilder.DropTable(name: "invitations");

            migrationBuilder.DropTable(name: "lead_mails");

            migrationBuilder.DropTable(name: "lead_yeses");

            migrationBuilder.DropTable(name: "letters");

            migrationBuilder.DropTable(name: "memberships");

            migrationBuilder.DropTable(name: "page_groups");

            migrationBuilder.DropTable(name: "pictures");

            migrationBuilder.DropTable(name: "places");

            migrationBuilder.DropTable(name: "points");

            migrationBuilder.DropTable(name: "promises");

            migrationBuilder.DropTable(name: "rejects");

            migrationBuilder.DropTable(name: "reviews");

            migrationBuilder.DropTable(name: "revisions");

            migrationBuilder.DropTable(name: "reward_files");

            migrationBuilder.DropTable(name: "saved_replies");

            migrationBuilder.DropTable(name: "saved_views");

            migrationBuilder.DropTable(name: "segments");

            migrationBuilder.DropTable(name: "sessions");

            migrationBuilder.DropTable(name: "shops");

            migrationBuilder.DropTable(name: "sites");

            migrationBuilder.DropTable(name: "sources");

            migrationBuilder.DropTable(name: "talk_files");

            migrationBuilder.DropTable(name: "talk_words");

            migrationBuilder.DropTable(name: "tokens");

            migrationBuilder.DropTable(name: "tombstones");

            migrationBuilder.DropTable(name: "traces");

            migrationBuilder.DropTable(name: "visitors");

            migrationBuilder.DropTable(name: "webhook_messages");

            migrationBuilder.DropTable(name: "workspaces");

            migrationBuilder.DropTable(name: "code_pools");

            migrationBuilder.DropTable(name: "identity_roles");

            migrationBuilder.DropTable(name: "leads");

            migrationBuilder.DropTable(name: "definitions");

            migrationBuilder.DropTable(name: "members");

            migrationBuilder.DropTable(name: "talks");

            migrationBuilder.DropTable(name: "webhooks");
        }
    }
}
