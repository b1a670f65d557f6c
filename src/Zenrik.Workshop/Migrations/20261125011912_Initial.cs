using System;
using Microsoft.EntityFrameworkCore.Migrations;
using Npgsql.EntityFrameworkCore.PostgreSQL.Metadata;

#nullable disable

namespace Zenrik.Workshop.Migrations
{
    /// <inheritdoc />
    public partial class Initial : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AlterDatabase().Annotation("Npgsql:PostgresExtension:pg_trgm", ",,");

            migrationBuilder.CreateSequence(name: "item_codes");

            migrationBuilder.CreateSequence(name: "repair_numbers", startValue: 1001L);

            migrationBuilder.CreateTable(
                name: "bins",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    code = table.Column<string>(type: "character varying(24)", maxLength: 24, nullable: false),
                    kind = table.Column<string>(type: "character varying(24)", maxLength: 24, nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_bins", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "catalogue_numbers",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    number = table.Column<string>(type: "character varying(64)", maxLength: 64, nullable: false),
                    canonical = table.Column<string>(type: "character varying(64)", maxLength: 64, nullable: false),
                    name = table.Column<string>(type: "character varying(80)", maxLength: 80, nullable: false),
                    type_code = table.Column<string>(type: "character varying(32)", maxLength: 32, nullable: true),
                    consumable = table.Column<string>(type: "character varying(32)", maxLength: 32, nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_catalogue_numbers", x => x.id);
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
                name: "demo_marks",
                columns: table => new
                {
                    id = table.Column<int>(type: "integer", nullable: false),
                    complete = table.Column<bool>(type: "boolean", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_demo_marks", x => x.id);
                    table.CheckConstraint("ck_demo_marks_single", "id = 1");
                }
            );

            migrationBuilder.CreateTable(
                name: "models",
                columns: table => new
                {
                    code = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: false),
                    name = table.Column<string>(type: "character varying(60)", maxLength: 60, nullable: false),
                    maker = table.Column<string>(type: "character varying(60)", maxLength: 60, nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_models", x => x.code);
                }
            );

            migrationBuilder.CreateTable(
                name: "roles",
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
                    table.PrimaryKey("pk_roles", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "technicians",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "character varying(60)", maxLength: 60, nullable: false),
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
                    phone_number = table.Column<string>(type: "text", nullable: true),
                    phone_number_confirmed = table.Column<bool>(type: "boolean", nullable: false),
                    two_factor_enabled = table.Column<bool>(type: "boolean", nullable: false),
                    lockout_end = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    lockout_enabled = table.Column<bool>(type: "boolean", nullable: false),
                    access_failed_count = table.Column<int>(type: "integer", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_technicians", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "lots",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    number_id = table.Column<Guid>(type: "uuid", nullable: false),
                    bin_id = table.Column<Guid>(type: "uuid", nullable: false),
                    on_hand = table.Column<int>(type: "integer", nullable: false),
                    promised = table.Column<int>(type: "integer", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_lots", x => x.id);
                    table.CheckConstraint("ck_lots_not_negative", "on_hand >= 0");
                    table.CheckConstraint("ck_lots_promised_on_hand", "promised BETWEEN 0 AND on_hand");
                    table.ForeignKey(
                        name: "fk_lots_bins_bin_id",
                        column: x => x.bin_id,
                        principalTable: "bins",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_lots_catalogue_numbers_number_id",
                        column: x => x.number_id,
                        principalTable: "catalogue_numbers",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "catalogue_fits",
                columns: table => new
                {
                    number_id = table.Column<Guid>(type: "uuid", nullable: false),
                    model_code = table.Column<string>(type: "character varying(40)", nullable: false),
                    slot = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey(
                        "pk_catalogue_fits",
                        x => new
                        {
                            x.number_id,
                            x.model_code,
                            x.slot,
                        }
                    );
                    table.ForeignKey(
                        name: "fk_catalogue_fits_catalogue_numbers_number_id",
                        column: x => x.number_id,
                        principalTable: "catalogue_numbers",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade
                    );
                    table.ForeignKey(
                        name: "fk_catalogue_fits_models_model_code",
                        column: x => x.model_code,
                        principalTable: "models",
                        principalColumn: "code",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "service_map_revisions",
                columns: table => new
                {
                    model_code = table.Column<string>(type: "character varying(40)", nullable: false),
                    revision = table.Column<int>(type: "integer", nullable: false),
                    json = table.Column<string>(type: "text", nullable: false),
                    accepted_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_service_map_revisions", x => new { x.model_code, x.revision });
                    table.CheckConstraint("ck_service_map_revisions_revision", "revision >= 1");
                    table.ForeignKey(
                        name: "fk_service_map_revisions_models_model_code",
                        column: x => x.model_code,
                        principalTable: "models",
                        principalColumn: "code",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "units",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    tag = table.Column<string>(type: "character varying(32)", maxLength: 32, nullable: false),
                    serial = table.Column<string>(type: "character varying(64)", maxLength: 64, nullable: false),
                    model_code = table.Column<string>(type: "character varying(40)", nullable: false),
                    site = table.Column<string>(type: "character varying(80)", maxLength: 80, nullable: false),
                    user_name = table.Column<string>(type: "character varying(80)", maxLength: 80, nullable: true),
                    bought_on = table.Column<DateOnly>(type: "date", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_units", x => x.id);
                    table.ForeignKey(
                        name: "fk_units_models_model_code",
                        column: x => x.model_code,
                        principalTable: "models",
                        principalColumn: "code",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "role_claims",
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
                    table.PrimaryKey("pk_role_claims", x => x.id);
                    table.ForeignKey(
                        name: "fk_role_claims_roles_role_id",
                        column: x => x.role_id,
                        principalTable: "roles",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "api_tokens",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    owner_id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "character varying(60)", maxLength: 60, nullable: false),
                    hash = table.Column<byte[]>(type: "bytea", nullable: false),
                    made_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    revoked_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_api_tokens", x => x.id);
                    table.ForeignKey(
                        name: "fk_api_tokens_users_owner_id",
                        column: x => x.owner_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "house_choices",
                columns: table => new
                {
                    rule_id = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: false),
                    school_id = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    by_id = table.Column<Guid>(type: "uuid", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_house_choices", x => x.rule_id);
                    table.ForeignKey(
                        name: "fk_house_choices_users_by_id",
                        column: x => x.by_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "technician_claims",
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
                    table.PrimaryKey("pk_technician_claims", x => x.id);
                    table.ForeignKey(
                        name: "fk_technician_claims_technicians_user_id",
                        column: x => x.user_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "technician_logins",
                columns: table => new
                {
                    login_provider = table.Column<string>(type: "text", nullable: false),
                    provider_key = table.Column<string>(type: "text", nullable: false),
                    provider_display_name = table.Column<string>(type: "text", nullable: true),
                    user_id = table.Column<Guid>(type: "uuid", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_technician_logins", x => new { x.login_provider, x.provider_key });
                    table.ForeignKey(
                        name: "fk_technician_logins_technicians_user_id",
                        column: x => x.user_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "technician_roles",
                columns: table => new
                {
                    user_id = table.Column<Guid>(type: "uuid", nullable: false),
                    role_id = table.Column<Guid>(type: "uuid", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_technician_roles", x => new { x.user_id, x.role_id });
                    table.ForeignKey(
                        name: "fk_technician_roles_roles_role_id",
                        column: x => x.role_id,
                        principalTable: "roles",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade
                    );
                    table.ForeignKey(
                        name: "fk_technician_roles_technicians_user_id",
                        column: x => x.user_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "technician_tokens",
                columns: table => new
                {
                    user_id = table.Column<Guid>(type: "uuid", nullable: false),
                    login_provider = table.Column<string>(type: "text", nullable: false),
                    name = table.Column<string>(type: "text", nullable: false),
                    value = table.Column<string>(type: "text", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey(
                        "pk_technician_tokens",
                        x => new
                        {
                            x.user_id,
                            x.login_provider,
                            x.name,
                        }
                    );
                    table.ForeignKey(
                        name: "fk_technician_tokens_technicians_user_id",
                        column: x => x.user_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "items",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    code = table.Column<string>(type: "character varying(24)", maxLength: 24, nullable: false),
                    number_id = table.Column<Guid>(type: "uuid", nullable: false),
                    serial = table.Column<string>(type: "character varying(64)", maxLength: 64, nullable: true),
                    bin_id = table.Column<Guid>(type: "uuid", nullable: true),
                    unit_id = table.Column<Guid>(type: "uuid", nullable: true),
                    slot = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: true),
                    xmin = table.Column<uint>(type: "xid", rowVersion: true, nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_items", x => x.id);
                    table.CheckConstraint("ck_items_one_place", "(bin_id IS NULL) <> (unit_id IS NULL)");
                    table.CheckConstraint("ck_items_slot_of_unit", "(unit_id IS NULL) = (slot IS NULL)");
                    table.ForeignKey(
                        name: "fk_items_bins_bin_id",
                        column: x => x.bin_id,
                        principalTable: "bins",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_items_catalogue_numbers_number_id",
                        column: x => x.number_id,
                        principalTable: "catalogue_numbers",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_items_units_unit_id",
                        column: x => x.unit_id,
                        principalTable: "units",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "repairs",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    number = table.Column<long>(
                        type: "bigint",
                        nullable: false,
                        defaultValueSql: "nextval('repair_numbers')"
                    ),
                    unit_id = table.Column<Guid>(type: "uuid", nullable: false),
                    note = table.Column<string>(type: "character varying(500)", maxLength: 500, nullable: true),
                    state = table.Column<string>(type: "character varying(24)", maxLength: 24, nullable: false),
                    promised_on = table.Column<DateOnly>(type: "date", nullable: true),
                    opened_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    opened_by_id = table.Column<Guid>(type: "uuid", nullable: false),
                    closed_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    closed_by_id = table.Column<Guid>(type: "uuid", nullable: true),
                    minutes_planned = table.Column<double>(type: "double precision", nullable: true),
                    minutes_taken = table.Column<double>(type: "double precision", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_repairs", x => x.id);
                    table.ForeignKey(
                        name: "fk_repairs_units_unit_id",
                        column: x => x.unit_id,
                        principalTable: "units",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_repairs_users_closed_by_id",
                        column: x => x.closed_by_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_repairs_users_opened_by_id",
                        column: x => x.opened_by_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "bench_sessions",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    repair_id = table.Column<Guid>(type: "uuid", nullable: false),
                    model_code = table.Column<string>(type: "character varying(40)", nullable: false),
                    map_revision = table.Column<int>(type: "integer", nullable: false),
                    fitted_parts = table.Column<string[]>(type: "text[]", nullable: false),
                    practice = table.Column<string[]>(type: "text[]", nullable: false),
                    acts = table.Column<string[]>(type: "text[]", nullable: false),
                    started_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    started_by_id = table.Column<Guid>(type: "uuid", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_bench_sessions", x => x.id);
                    table.ForeignKey(
                        name: "fk_bench_sessions_repairs_repair_id",
                        column: x => x.repair_id,
                        principalTable: "repairs",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_bench_sessions_service_map_revisions_model_code_map_revision",
                        columns: x => new { x.model_code, x.map_revision },
                        principalTable: "service_map_revisions",
                        principalColumns: new[] { "model_code", "revision" },
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_bench_sessions_users_started_by_id",
                        column: x => x.started_by_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "movements",
                columns: table => new
                {
                    id = table
                        .Column<long>(type: "bigint", nullable: false)
                        .Annotation(
                            "Npgsql:ValueGenerationStrategy",
                            NpgsqlValueGenerationStrategy.IdentityByDefaultColumn
                        ),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    by_id = table.Column<Guid>(type: "uuid", nullable: false),
                    reason = table.Column<string>(type: "character varying(24)", maxLength: 24, nullable: false),
                    repair_id = table.Column<Guid>(type: "uuid", nullable: true),
                    item_id = table.Column<Guid>(type: "uuid", nullable: true),
                    lot_id = table.Column<Guid>(type: "uuid", nullable: true),
                    quantity = table.Column<int>(type: "integer", nullable: false),
                    from_bin_id = table.Column<Guid>(type: "uuid", nullable: true),
                    from_unit_id = table.Column<Guid>(type: "uuid", nullable: true),
                    from_slot = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: true),
                    to_bin_id = table.Column<Guid>(type: "uuid", nullable: true),
                    to_unit_id = table.Column<Guid>(type: "uuid", nullable: true),
                    to_slot = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_movements", x => x.id);
                    table.CheckConstraint("ck_movements_item_or_lot", "(item_id IS NULL) <> (lot_id IS NULL)");
                    table.CheckConstraint(
                        "ck_movements_one_destination",
                        "(to_bin_id IS NULL) <> (to_unit_id IS NULL)"
                    );
                    table.CheckConstraint(
                        "ck_movements_quantity",
                        "quantity > 0 AND (item_id IS NULL OR quantity = 1)"
                    );
                    table.ForeignKey(
                        name: "fk_movements_bins_from_bin_id",
                        column: x => x.from_bin_id,
                        principalTable: "bins",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_movements_bins_to_bin_id",
                        column: x => x.to_bin_id,
                        principalTable: "bins",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_movements_items_item_id",
                        column: x => x.item_id,
                        principalTable: "items",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_movements_lots_lot_id",
                        column: x => x.lot_id,
                        principalTable: "lots",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_movements_repairs_repair_id",
                        column: x => x.repair_id,
                        principalTable: "repairs",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_movements_units_from_unit_id",
                        column: x => x.from_unit_id,
                        principalTable: "units",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_movements_units_to_unit_id",
                        column: x => x.to_unit_id,
                        principalTable: "units",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_movements_users_by_id",
                        column: x => x.by_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "repair_lines",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    repair_id = table.Column<Guid>(type: "uuid", nullable: false),
                    position = table.Column<int>(type: "integer", nullable: false),
                    assembly = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: false),
                    assembly_name = table.Column<string>(type: "character varying(60)", maxLength: 60, nullable: false),
                    slot = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: false),
                    fault = table.Column<string>(type: "character varying(80)", maxLength: 80, nullable: false),
                    expected_out = table.Column<string>(type: "character varying(64)", maxLength: 64, nullable: true),
                    expected_in = table.Column<string>(type: "character varying(64)", maxLength: 64, nullable: true),
                    number_out = table.Column<string>(type: "character varying(64)", maxLength: 64, nullable: true),
                    number_in = table.Column<string>(type: "character varying(64)", maxLength: 64, nullable: true),
                    surprise = table.Column<bool>(type: "boolean", nullable: false),
                    item_out_id = table.Column<Guid>(type: "uuid", nullable: true),
                    item_in_id = table.Column<Guid>(type: "uuid", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_repair_lines", x => x.id);
                    table.ForeignKey(
                        name: "fk_repair_lines_items_item_in_id",
                        column: x => x.item_in_id,
                        principalTable: "items",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_repair_lines_items_item_out_id",
                        column: x => x.item_out_id,
                        principalTable: "items",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_repair_lines_repairs_repair_id",
                        column: x => x.repair_id,
                        principalTable: "repairs",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "bench_entries",
                columns: table => new
                {
                    session_id = table.Column<Guid>(type: "uuid", nullable: false),
                    sequence = table.Column<int>(type: "integer", nullable: false),
                    request_id = table.Column<Guid>(type: "uuid", nullable: false),
                    kind = table.Column<string>(type: "character varying(24)", maxLength: 24, nullable: false),
                    step = table.Column<int>(type: "integer", nullable: true),
                    count = table.Column<int>(type: "integer", nullable: true),
                    difference = table.Column<string>(type: "character varying(24)", maxLength: 24, nullable: true),
                    text = table.Column<string>(type: "character varying(500)", maxLength: 500, nullable: true),
                    confirmed = table.Column<bool>(type: "boolean", nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    by_id = table.Column<Guid>(type: "uuid", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_bench_entries", x => new { x.session_id, x.sequence });
                    table.CheckConstraint("ck_bench_entries_sequence", "sequence >= 1");
                    table.ForeignKey(
                        name: "fk_bench_entries_asp_net_users_by_id",
                        column: x => x.by_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_bench_entries_bench_sessions_session_id",
                        column: x => x.session_id,
                        principalTable: "bench_sessions",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "reservations",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    repair_id = table.Column<Guid>(type: "uuid", nullable: false),
                    line_id = table.Column<Guid>(type: "uuid", nullable: true),
                    item_id = table.Column<Guid>(type: "uuid", nullable: true),
                    lot_id = table.Column<Guid>(type: "uuid", nullable: true),
                    quantity = table.Column<int>(type: "integer", nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    by_id = table.Column<Guid>(type: "uuid", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_reservations", x => x.id);
                    table.CheckConstraint("ck_reservations_item_or_lot", "(item_id IS NULL) <> (lot_id IS NULL)");
                    table.CheckConstraint("ck_reservations_quantity", "quantity > 0");
                    table.ForeignKey(
                        name: "fk_reservations_items_item_id",
                        column: x => x.item_id,
                        principalTable: "items",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_reservations_lots_lot_id",
                        column: x => x.lot_id,
                        principalTable: "lots",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_reservations_repair_lines_line_id",
                        column: x => x.line_id,
                        principalTable: "repair_lines",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_reservations_repairs_repair_id",
                        column: x => x.repair_id,
                        principalTable: "repairs",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateIndex(name: "ix_api_tokens_hash", table: "api_tokens", column: "hash", unique: true);

            migrationBuilder.CreateIndex(name: "ix_api_tokens_owner_id", table: "api_tokens", column: "owner_id");

            migrationBuilder.CreateIndex(name: "ix_bench_entries_by_id", table: "bench_entries", column: "by_id");

            migrationBuilder.CreateIndex(
                name: "ix_bench_entries_session_id_request_id",
                table: "bench_entries",
                columns: new[] { "session_id", "request_id" },
                unique: true
            );

            migrationBuilder.CreateIndex(
                name: "ix_bench_sessions_model_code_map_revision",
                table: "bench_sessions",
                columns: new[] { "model_code", "map_revision" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_bench_sessions_repair_id",
                table: "bench_sessions",
                column: "repair_id",
                unique: true
            );

            migrationBuilder.CreateIndex(
                name: "ix_bench_sessions_started_by_id",
                table: "bench_sessions",
                column: "started_by_id"
            );

            migrationBuilder.CreateIndex(name: "ix_bins_code", table: "bins", column: "code", unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_catalogue_fits_model_code_slot",
                table: "catalogue_fits",
                columns: new[] { "model_code", "slot" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_catalogue_numbers_canonical",
                table: "catalogue_numbers",
                column: "canonical",
                unique: true
            );

            migrationBuilder
                .CreateIndex(name: "ix_catalogue_numbers_number_trigrams", table: "catalogue_numbers", column: "number")
                .Annotation("Npgsql:IndexMethod", "gist")
                .Annotation("Npgsql:IndexOperators", new[] { "gist_trgm_ops" });

            migrationBuilder.CreateIndex(name: "ix_house_choices_by_id", table: "house_choices", column: "by_id");

            migrationBuilder.CreateIndex(name: "ix_items_bin_id", table: "items", column: "bin_id");

            migrationBuilder.CreateIndex(name: "ix_items_code", table: "items", column: "code", unique: true);

            migrationBuilder
                .CreateIndex(name: "ix_items_code_trigrams", table: "items", column: "code")
                .Annotation("Npgsql:IndexMethod", "gist")
                .Annotation("Npgsql:IndexOperators", new[] { "gist_trgm_ops" });

            migrationBuilder.CreateIndex(name: "ix_items_number_id", table: "items", column: "number_id");

            migrationBuilder.CreateIndex(
                name: "ix_items_unit_id_slot",
                table: "items",
                columns: new[] { "unit_id", "slot" },
                unique: true
            );

            migrationBuilder.CreateIndex(name: "ix_lots_bin_id", table: "lots", column: "bin_id");

            migrationBuilder.CreateIndex(
                name: "ix_lots_number_id_bin_id",
                table: "lots",
                columns: new[] { "number_id", "bin_id" },
                unique: true
            );

            migrationBuilder.CreateIndex(name: "ix_movements_by_id", table: "movements", column: "by_id");

            migrationBuilder.CreateIndex(name: "ix_movements_from_bin_id", table: "movements", column: "from_bin_id");

            migrationBuilder.CreateIndex(name: "ix_movements_from_unit_id", table: "movements", column: "from_unit_id");

            migrationBuilder.CreateIndex(
                name: "ix_movements_item_id_id",
                table: "movements",
                columns: new[] { "item_id", "id" }
            );

            migrationBuilder.CreateIndex(name: "ix_movements_lot_id", table: "movements", column: "lot_id");

            migrationBuilder.CreateIndex(name: "ix_movements_repair_id", table: "movements", column: "repair_id");

            migrationBuilder.CreateIndex(name: "ix_movements_to_bin_id", table: "movements", column: "to_bin_id");

            migrationBuilder.CreateIndex(
                name: "ix_movements_to_unit_id_to_slot",
                table: "movements",
                columns: new[] { "to_unit_id", "to_slot" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_repair_lines_item_in_id",
                table: "repair_lines",
                column: "item_in_id"
            );

            migrationBuilder.CreateIndex(
                name: "ix_repair_lines_item_out_id",
                table: "repair_lines",
                column: "item_out_id"
            );

            migrationBuilder.CreateIndex(
                name: "ix_repair_lines_repair_id_slot",
                table: "repair_lines",
                columns: new[] { "repair_id", "slot" },
                unique: true
            );

            migrationBuilder.CreateIndex(name: "ix_repairs_closed_by_id", table: "repairs", column: "closed_by_id");

            migrationBuilder.CreateIndex(name: "ix_repairs_number", table: "repairs", column: "number", unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_repairs_one_open_per_unit",
                table: "repairs",
                column: "unit_id",
                unique: true,
                filter: "state IN ('Open', 'OnBench')"
            );

            migrationBuilder.CreateIndex(name: "ix_repairs_opened_by_id", table: "repairs", column: "opened_by_id");

            migrationBuilder.CreateIndex(name: "ix_repairs_state", table: "repairs", column: "state");

            migrationBuilder.CreateIndex(
                name: "ix_reservations_item_id",
                table: "reservations",
                column: "item_id",
                unique: true
            );

            migrationBuilder.CreateIndex(
                name: "ix_reservations_line_id",
                table: "reservations",
                column: "line_id",
                unique: true
            );

            migrationBuilder.CreateIndex(name: "ix_reservations_lot_id", table: "reservations", column: "lot_id");

            migrationBuilder.CreateIndex(name: "ix_reservations_repair_id", table: "reservations", column: "repair_id");

            migrationBuilder.CreateIndex(name: "ix_role_claims_role_id", table: "role_claims", column: "role_id");

            migrationBuilder.CreateIndex(
                name: "RoleNameIndex",
                table: "roles",
                column: "normalized_name",
                unique: true
            );

            migrationBuilder.CreateIndex(
                name: "ix_technician_claims_user_id",
                table: "technician_claims",
                column: "user_id"
            );

            migrationBuilder.CreateIndex(
                name: "ix_technician_logins_user_id",
                table: "technician_logins",
                column: "user_id"
            );

            migrationBuilder.CreateIndex(
                name: "ix_technician_roles_role_id",
                table: "technician_roles",
                column: "role_id"
            );

            migrationBuilder.CreateIndex(name: "EmailIndex", table: "technicians", column: "normalized_email");

            migrationBuilder.CreateIndex(
                name: "UserNameIndex",
                table: "technicians",
                column: "normalized_user_name",
                unique: true
            );

            migrationBuilder.CreateIndex(name: "ix_units_model_code", table: "units", column: "model_code");

            migrationBuilder.CreateIndex(name: "ix_units_serial", table: "units", column: "serial", unique: true);

            migrationBuilder
                .CreateIndex(name: "ix_units_serial_trigrams", table: "units", column: "serial")
                .Annotation("Npgsql:IndexMethod", "gist")
                .Annotation("Npgsql:IndexOperators", new[] { "gist_trgm_ops" });

            migrationBuilder.CreateIndex(name: "ix_units_tag", table: "units", column: "tag", unique: true);

            migrationBuilder
                .CreateIndex(name: "ix_units_tag_trigrams", table: "units", column: "tag")
                .Annotation("Npgsql:IndexMethod", "gist")
                .Annotation("Npgsql:IndexOperators", new[] { "gist_trgm_ops" });
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(name: "api_tokens");

            migrationBuilder.DropTable(name: "bench_entries");

            migrationBuilder.DropTable(name: "catalogue_fits");

            migrationBuilder.DropTable(name: "data_protection_keys");

            migrationBuilder.DropTable(name: "demo_marks");

            migrationBuilder.DropTable(name: "house_choices");

            migrationBuilder.DropTable(name: "movements");

            migrationBuilder.DropTable(name: "reservations");

            migrationBuilder.DropTable(name: "role_claims");

            migrationBuilder.DropTable(name: "technician_claims");

            migrationBuilder.DropTable(name: "technician_logins");

            migrationBuilder.DropTable(name: "technician_roles");

            migrationBuilder.DropTable(name: "technician_tokens");

            migrationBuilder.DropTable(name: "bench_sessions");

            migrationBuilder.DropTable(name: "lots");

            migrationBuilder.DropTable(name: "repair_lines");

            migrationBuilder.DropTable(name: "roles");

            migrationBuilder.DropTable(name: "service_map_revisions");

            migrationBuilder.DropTable(name: "items");

            migrationBuilder.DropTable(name: "repairs");

            migrationBuilder.DropTable(name: "bins");

            migrationBuilder.DropTable(name: "catalogue_numbers");

            migrationBuilder.DropTable(name: "units");

            migrationBuilder.DropTable(name: "technicians");

            migrationBuilder.DropTable(name: "models");

            migrationBuilder.DropSequence(name: "item_codes");

            migrationBuilder.DropSequence(name: "repair_numbers");
        }
    }
}
