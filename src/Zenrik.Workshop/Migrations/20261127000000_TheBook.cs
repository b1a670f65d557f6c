using System;
using System.Collections.Generic;
using Microsoft.EntityFrameworkCore.Migrations;
using Npgsql.EntityFrameworkCore.PostgreSQL.Metadata;

#nullable disable

namespace Zenrik.Workshop.Migrations
{
    /// <inheritdoc />
    public partial class TheBook : Migration
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
                    table.UniqueConstraint("ak_bins_id_kind", x => new { x.id, x.kind });
                }
            );

            migrationBuilder.CreateTable(
                name: "carrier_calendars",
                columns: table => new
                {
                    carrier = table.Column<string>(type: "character varying(60)", maxLength: 60, nullable: false),
                    days_off = table.Column<DateOnly[]>(type: "date[]", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_carrier_calendars", x => x.carrier);
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
                    specification = table.Column<string>(type: "jsonb", nullable: true),
                    kind = table.Column<string>(type: "character varying(24)", maxLength: 24, nullable: false),
                    superseded_by_id = table.Column<Guid>(type: "uuid", nullable: true),
                    weight_kg = table.Column<decimal>(type: "numeric", nullable: true),
                    minimum_level = table.Column<int>(type: "integer", nullable: true),
                    order_up_to = table.Column<int>(type: "integer", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_catalogue_numbers", x => x.id);
                    table.CheckConstraint(
                        "ck_catalogue_numbers_level",
                        "(minimum_level IS NULL) = (order_up_to IS NULL) AND minimum_level >= 1 AND order_up_to >= minimum_level"
                    );
                    table.ForeignKey(
                        name: "fk_catalogue_numbers_catalogue_numbers_superseded_by_id",
                        column: x => x.superseded_by_id,
                        principalTable: "catalogue_numbers",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
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
                name: "done_requests",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    by_id = table.Column<Guid>(type: "uuid", nullable: false),
                    act = table.Column<string>(type: "character varying(200)", maxLength: 200, nullable: false),
                    said = table.Column<string>(type: "text", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_done_requests", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "house_figures",
                columns: table => new
                {
                    id = table.Column<int>(type: "integer", nullable: false),
                    currency = table.Column<string>(type: "character varying(3)", maxLength: 3, nullable: false),
                    labour_per_hour = table.Column<decimal>(
                        type: "numeric(10,2)",
                        precision: 10,
                        scale: 2,
                        nullable: false
                    ),
                    loan_per_day = table.Column<decimal>(
                        type: "numeric(10,2)",
                        precision: 10,
                        scale: 2,
                        nullable: false
                    ),
                    exchange_rates = table.Column<string>(type: "jsonb", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_house_figures", x => x.id);
                    table.CheckConstraint("ck_house_figures_one", "id = 1");
                }
            );

            migrationBuilder.CreateTable(
                name: "models",
                columns: table => new
                {
                    code = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: false),
                    name = table.Column<string>(type: "character varying(60)", maxLength: 60, nullable: false),
                    maker = table.Column<string>(type: "character varying(60)", maxLength: 60, nullable: false),
                    @class = table.Column<string>(
                        name: "class",
                        type: "character varying(24)",
                        maxLength: 24,
                        nullable: false
                    ),
                    support_ends = table.Column<DateOnly>(type: "date", nullable: true),
                    life_months = table.Column<int>(type: "integer", nullable: false),
                    new_price = table.Column<decimal>(type: "numeric", nullable: false),
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
                name: "suppliers",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "character varying(80)", maxLength: 80, nullable: false),
                    address = table.Column<string>(type: "character varying(200)", maxLength: 200, nullable: false),
                    days_off = table.Column<DateOnly[]>(type: "date[]", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_suppliers", x => x.id);
                }
            );

            migrationBuilder.CreateTable(
                name: "technicians",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "character varying(60)", maxLength: 60, nullable: false),
                    disabled_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    must_change_password = table.Column<bool>(type: "boolean", nullable: false),
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
                    listed_by = table.Column<string>(type: "character varying(60)", maxLength: 60, nullable: true),
                    listed_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
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
                name: "fit_tallies",
                columns: table => new
                {
                    model_code = table.Column<string>(type: "character varying(40)", nullable: false),
                    number_id = table.Column<Guid>(type: "uuid", nullable: false),
                    fitted = table.Column<int>(type: "integer", nullable: false),
                    failed = table.Column<int>(type: "integer", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_fit_tallies", x => new { x.number_id, x.model_code });
                    table.CheckConstraint("ck_fit_tallies_counts", "fitted >= 0 AND failed >= 0");
                    table.ForeignKey(
                        name: "fk_fit_tallies_catalogue_numbers_number_id",
                        column: x => x.number_id,
                        principalTable: "catalogue_numbers",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade
                    );
                    table.ForeignKey(
                        name: "fk_fit_tallies_models_model_code",
                        column: x => x.model_code,
                        principalTable: "models",
                        principalColumn: "code",
                        onDelete: ReferentialAction.Cascade
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
                    state = table.Column<string>(type: "character varying(24)", maxLength: 24, nullable: false),
                    in_loan_pool = table.Column<bool>(type: "boolean", nullable: false),
                    warranty_until = table.Column<DateOnly>(type: "date", nullable: true),
                    search_text = table.Column<string>(
                        type: "text",
                        nullable: true,
                        computedColumnSql: "lower(tag || ' ' || serial || ' ' || coalesce(user_name, '') || ' ' || site)",
                        stored: true
                    ),
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
                name: "stored_offers",
                columns: table => new
                {
                    supplier_id = table.Column<Guid>(type: "uuid", nullable: false),
                    canonical = table.Column<string>(type: "character varying(64)", maxLength: 64, nullable: false),
                    offer = table.Column<string>(type: "jsonb", nullable: false),
                    fetched_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_stored_offers", x => new { x.supplier_id, x.canonical });
                    table.ForeignKey(
                        name: "fk_stored_offers_suppliers_supplier_id",
                        column: x => x.supplier_id,
                        principalTable: "suppliers",
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
                    scopes = table.Column<string[]>(type: "text[]", nullable: false),
                    made_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    expires_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    last_used_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
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
                name: "learned_resets",
                columns: table => new
                {
                    @class = table.Column<string>(
                        name: "class",
                        type: "character varying(24)",
                        maxLength: 24,
                        nullable: false
                    ),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    by_id = table.Column<Guid>(type: "uuid", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_learned_resets", x => x.@class);
                    table.ForeignKey(
                        name: "fk_learned_resets_users_by_id",
                        column: x => x.by_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "stocktakes",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    bin_id = table.Column<Guid>(type: "uuid", nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    by_id = table.Column<Guid>(type: "uuid", nullable: false),
                    seen_movement = table.Column<long>(type: "bigint", nullable: false),
                    ended_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    posted = table.Column<bool>(type: "boolean", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_stocktakes", x => x.id);
                    table.ForeignKey(
                        name: "fk_stocktakes_bins_bin_id",
                        column: x => x.bin_id,
                        principalTable: "bins",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_stocktakes_users_by_id",
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
                name: "campaign_marks",
                columns: table => new
                {
                    unit_id = table.Column<Guid>(type: "uuid", nullable: false),
                    campaign = table.Column<string>(type: "character varying(60)", maxLength: 60, nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    done_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_campaign_marks", x => new { x.unit_id, x.campaign });
                    table.ForeignKey(
                        name: "fk_campaign_marks_units_unit_id",
                        column: x => x.unit_id,
                        principalTable: "units",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
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
                    batch = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: true),
                    cost = table.Column<decimal>(type: "numeric(10,2)", precision: 10, scale: 2, nullable: true),
                    bin_id = table.Column<Guid>(type: "uuid", nullable: true),
                    bin_kind = table.Column<string>(type: "character varying(24)", maxLength: 24, nullable: true),
                    unit_id = table.Column<Guid>(type: "uuid", nullable: true),
                    slot = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: true),
                    xmin = table.Column<uint>(type: "xid", rowVersion: true, nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_items", x => x.id);
                    table.CheckConstraint("ck_items_one_place", "(bin_id IS NULL) <> (unit_id IS NULL)");
                    table.CheckConstraint("ck_items_place_kind", "(bin_id IS NULL) = (bin_kind IS NULL)");
                    table.CheckConstraint("ck_items_slot_of_unit", "(unit_id IS NULL) = (slot IS NULL)");
                    table.ForeignKey(
                        name: "fk_items_bins_bin_id_bin_kind",
                        columns: x => new { x.bin_id, x.bin_kind },
                        principalTable: "bins",
                        principalColumns: new[] { "id", "kind" },
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
                    priority = table.Column<string>(type: "character varying(24)", maxLength: 24, nullable: false),
                    symptoms = table.Column<List<string>>(type: "text[]", nullable: false),
                    circumstances = table.Column<List<string>>(type: "text[]", nullable: false),
                    since = table.Column<DateOnly>(type: "date", nullable: true),
                    triage_end = table.Column<string>(type: "character varying(24)", maxLength: 24, nullable: true),
                    fault_id = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: true),
                    triage_ended_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    end = table.Column<string>(type: "character varying(24)", maxLength: 24, nullable: true),
                    decided = table.Column<string>(type: "character varying(2000)", maxLength: 2000, nullable: true),
                    promised_on = table.Column<DateOnly>(type: "date", nullable: true),
                    opened_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    opened_by_id = table.Column<Guid>(type: "uuid", nullable: false),
                    closed_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    closed_by_id = table.Column<Guid>(type: "uuid", nullable: true),
                    minutes_planned = table.Column<double>(type: "double precision", nullable: true),
                    minutes_taken = table.Column<double>(type: "double precision", nullable: true),
                    own_consumables = table.Column<string>(type: "jsonb", nullable: false, defaultValueSql: "'{}'"),
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
                name: "unit_looks",
                columns: table => new
                {
                    unit_id = table.Column<Guid>(type: "uuid", nullable: false),
                    trait = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: false),
                    look = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    by_id = table.Column<Guid>(type: "uuid", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_unit_looks", x => new { x.unit_id, x.trait });
                    table.ForeignKey(
                        name: "fk_unit_looks_units_unit_id",
                        column: x => x.unit_id,
                        principalTable: "units",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_unit_looks_users_by_id",
                        column: x => x.by_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "unit_questions",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    unit_id = table.Column<Guid>(type: "uuid", nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    text = table.Column<string>(type: "character varying(400)", maxLength: 400, nullable: false),
                    slot = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: true),
                    number = table.Column<string>(type: "character varying(64)", maxLength: 64, nullable: true),
                    serial = table.Column<string>(type: "character varying(64)", maxLength: 64, nullable: true),
                    writable = table.Column<bool>(type: "boolean", nullable: false),
                    decided_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    decided_by_id = table.Column<Guid>(type: "uuid", nullable: true),
                    accepted = table.Column<bool>(type: "boolean", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_unit_questions", x => x.id);
                    table.ForeignKey(
                        name: "fk_unit_questions_units_unit_id",
                        column: x => x.unit_id,
                        principalTable: "units",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "stocktake_lots",
                columns: table => new
                {
                    stocktake_id = table.Column<Guid>(type: "uuid", nullable: false),
                    lot_id = table.Column<Guid>(type: "uuid", nullable: false),
                    counted = table.Column<int>(type: "integer", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_stocktake_lots", x => new { x.stocktake_id, x.lot_id });
                    table.CheckConstraint("ck_stocktake_lots_counted", "counted >= 0");
                    table.ForeignKey(
                        name: "fk_stocktake_lots_lots_lot_id",
                        column: x => x.lot_id,
                        principalTable: "lots",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_stocktake_lots_stocktakes_stocktake_id",
                        column: x => x.stocktake_id,
                        principalTable: "stocktakes",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "battery_readings",
                columns: table => new
                {
                    id = table
                        .Column<long>(type: "bigint", nullable: false)
                        .Annotation(
                            "Npgsql:ValueGenerationStrategy",
                            NpgsqlValueGenerationStrategy.IdentityByDefaultColumn
                        ),
                    unit_id = table.Column<Guid>(type: "uuid", nullable: false),
                    item_id = table.Column<Guid>(type: "uuid", nullable: true),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    health = table.Column<double>(type: "double precision", nullable: false),
                    full_wh = table.Column<double>(type: "double precision", nullable: true),
                    design_wh = table.Column<double>(type: "double precision", nullable: true),
                    cycles = table.Column<int>(type: "integer", nullable: true),
                    model = table.Column<string>(type: "character varying(64)", maxLength: 64, nullable: true),
                    serial = table.Column<string>(type: "character varying(64)", maxLength: 64, nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_battery_readings", x => x.id);
                    table.CheckConstraint(
                        "ck_battery_readings_energies",
                        "health >= 0 AND health <= 2 AND (full_wh IS NULL OR full_wh >= 0) AND (design_wh IS NULL OR design_wh > 0)"
                    );
                    table.ForeignKey(
                        name: "fk_battery_readings_items_item_id",
                        column: x => x.item_id,
                        principalTable: "items",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_battery_readings_units_unit_id",
                        column: x => x.unit_id,
                        principalTable: "units",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "stocktake_items",
                columns: table => new
                {
                    stocktake_id = table.Column<Guid>(type: "uuid", nullable: false),
                    item_id = table.Column<Guid>(type: "uuid", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_stocktake_items", x => new { x.stocktake_id, x.item_id });
                    table.ForeignKey(
                        name: "fk_stocktake_items_items_item_id",
                        column: x => x.item_id,
                        principalTable: "items",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_stocktake_items_stocktakes_stocktake_id",
                        column: x => x.stocktake_id,
                        principalTable: "stocktakes",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Cascade
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
                    map_revision = table.Column<int>(type: "integer", nullable: true),
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
                name: "erasures",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    unit_id = table.Column<Guid>(type: "uuid", nullable: false),
                    repair_id = table.Column<Guid>(type: "uuid", nullable: true),
                    slot = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: false),
                    item_code = table.Column<string>(type: "character varying(24)", maxLength: 24, nullable: true),
                    kind = table.Column<string>(type: "character varying(24)", maxLength: 24, nullable: false),
                    held = table.Column<string>(type: "character varying(24)", maxLength: 24, nullable: false),
                    method = table.Column<string>(type: "character varying(24)", maxLength: 24, nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    by_id = table.Column<Guid>(type: "uuid", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_erasures", x => x.id);
                    table.ForeignKey(
                        name: "fk_erasures_repairs_repair_id",
                        column: x => x.repair_id,
                        principalTable: "repairs",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_erasures_units_unit_id",
                        column: x => x.unit_id,
                        principalTable: "units",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_erasures_users_by_id",
                        column: x => x.by_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "follow_ups",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    unit_id = table.Column<Guid>(type: "uuid", nullable: false),
                    repair_id = table.Column<Guid>(type: "uuid", nullable: false),
                    what = table.Column<string>(type: "character varying(200)", maxLength: 200, nullable: false),
                    reason = table.Column<string>(type: "character varying(500)", maxLength: 500, nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    by_id = table.Column<Guid>(type: "uuid", nullable: false),
                    put_right_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    put_right_by_id = table.Column<Guid>(type: "uuid", nullable: true),
                    put_right = table.Column<string>(type: "character varying(200)", maxLength: 200, nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_follow_ups", x => x.id);
                    table.ForeignKey(
                        name: "fk_follow_ups_asp_net_users_put_right_by_id",
                        column: x => x.put_right_by_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_follow_ups_repairs_repair_id",
                        column: x => x.repair_id,
                        principalTable: "repairs",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_follow_ups_units_unit_id",
                        column: x => x.unit_id,
                        principalTable: "units",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_follow_ups_users_by_id",
                        column: x => x.by_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "loans",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    unit_id = table.Column<Guid>(type: "uuid", nullable: false),
                    to = table.Column<string>(type: "character varying(80)", maxLength: 80, nullable: false),
                    due_on = table.Column<DateOnly>(type: "date", nullable: true),
                    repair_id = table.Column<Guid>(type: "uuid", nullable: true),
                    out_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    out_by_id = table.Column<Guid>(type: "uuid", nullable: false),
                    back_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    back_by_id = table.Column<Guid>(type: "uuid", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_loans", x => x.id);
                    table.ForeignKey(
                        name: "fk_loans_repairs_repair_id",
                        column: x => x.repair_id,
                        principalTable: "repairs",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_loans_units_unit_id",
                        column: x => x.unit_id,
                        principalTable: "units",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_loans_users_out_by_id",
                        column: x => x.out_by_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "map_findings",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    model_code = table.Column<string>(type: "character varying(40)", nullable: false),
                    map_revision = table.Column<int>(type: "integer", nullable: false),
                    kind = table.Column<string>(type: "character varying(24)", maxLength: 24, nullable: false),
                    target = table.Column<string>(type: "character varying(120)", maxLength: 120, nullable: false),
                    found = table.Column<int>(type: "integer", nullable: true),
                    cover = table.Column<string>(type: "character varying(60)", maxLength: 60, nullable: true),
                    note = table.Column<string>(type: "character varying(500)", maxLength: 500, nullable: true),
                    repair_id = table.Column<Guid>(type: "uuid", nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    by_id = table.Column<Guid>(type: "uuid", nullable: false),
                    state = table.Column<string>(type: "character varying(24)", maxLength: 24, nullable: false),
                    decided_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    decided_by_id = table.Column<Guid>(type: "uuid", nullable: true),
                    decision = table.Column<string>(type: "character varying(200)", maxLength: 200, nullable: true),
                    accepted_revision = table.Column<int>(type: "integer", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_map_findings", x => x.id);
                    table.ForeignKey(
                        name: "fk_map_findings_repairs_repair_id",
                        column: x => x.repair_id,
                        principalTable: "repairs",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_map_findings_service_map_revisions_model_code_map_revision",
                        columns: x => new { x.model_code, x.map_revision },
                        principalTable: "service_map_revisions",
                        principalColumns: new[] { "model_code", "revision" },
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_map_findings_users_by_id",
                        column: x => x.by_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_map_findings_users_decided_by_id",
                        column: x => x.decided_by_id,
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
                    note = table.Column<string>(type: "character varying(200)", maxLength: 200, nullable: true),
                    rights_id = table.Column<long>(type: "bigint", nullable: true),
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
                        name: "fk_movements_movements_rights_id",
                        column: x => x.rights_id,
                        principalTable: "movements",
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
                name: "repair_photos",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    repair_id = table.Column<Guid>(type: "uuid", nullable: false),
                    jpeg = table.Column<byte[]>(type: "bytea", nullable: false),
                    act = table.Column<string>(type: "character varying(120)", maxLength: 120, nullable: true),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    by_id = table.Column<Guid>(type: "uuid", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_repair_photos", x => x.id);
                    table.ForeignKey(
                        name: "fk_repair_photos_repairs_repair_id",
                        column: x => x.repair_id,
                        principalTable: "repairs",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_repair_photos_users_by_id",
                        column: x => x.by_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "triage_steps",
                columns: table => new
                {
                    id = table
                        .Column<long>(type: "bigint", nullable: false)
                        .Annotation(
                            "Npgsql:ValueGenerationStrategy",
                            NpgsqlValueGenerationStrategy.IdentityByDefaultColumn
                        ),
                    repair_id = table.Column<Guid>(type: "uuid", nullable: false),
                    request_id = table.Column<Guid>(type: "uuid", nullable: false),
                    test = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: true),
                    remedy = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: true),
                    answer = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: true),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    by_id = table.Column<Guid>(type: "uuid", nullable: false),
                    taken_back_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_triage_steps", x => x.id);
                    table.CheckConstraint("ck_triage_steps_one", "(test IS NULL) <> (remedy IS NULL)");
                    table.ForeignKey(
                        name: "fk_triage_steps_repairs_repair_id",
                        column: x => x.repair_id,
                        principalTable: "repairs",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_triage_steps_users_by_id",
                        column: x => x.by_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "unit_events",
                columns: table => new
                {
                    id = table
                        .Column<long>(type: "bigint", nullable: false)
                        .Annotation(
                            "Npgsql:ValueGenerationStrategy",
                            NpgsqlValueGenerationStrategy.IdentityByDefaultColumn
                        ),
                    unit_id = table.Column<Guid>(type: "uuid", nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    by_id = table.Column<Guid>(type: "uuid", nullable: false),
                    kind = table.Column<string>(type: "character varying(24)", maxLength: 24, nullable: false),
                    text = table.Column<string>(type: "character varying(240)", maxLength: 240, nullable: false),
                    repair_id = table.Column<Guid>(type: "uuid", nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_unit_events", x => x.id);
                    table.ForeignKey(
                        name: "fk_unit_events_repairs_repair_id",
                        column: x => x.repair_id,
                        principalTable: "repairs",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_unit_events_units_unit_id",
                        column: x => x.unit_id,
                        principalTable: "units",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_unit_events_users_by_id",
                        column: x => x.by_id,
                        principalTable: "technicians",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                }
            );

            migrationBuilder.CreateTable(
                name: "waivers",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    repair_id = table.Column<Guid>(type: "uuid", nullable: false),
                    slot = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: false),
                    number = table.Column<string>(type: "character varying(64)", maxLength: 64, nullable: false),
                    rule = table.Column<string>(type: "character varying(40)", maxLength: 40, nullable: false),
                    reason = table.Column<string>(type: "character varying(300)", maxLength: 300, nullable: false),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    by_id = table.Column<Guid>(type: "uuid", nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_waivers", x => x.id);
                    table.ForeignKey(
                        name: "fk_waivers_repairs_repair_id",
                        column: x => x.repair_id,
                        principalTable: "repairs",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_waivers_users_by_id",
                        column: x => x.by_id,
                        principalTable: "technicians",
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
                    cause = table.Column<string>(type: "character varying(24)", maxLength: 24, nullable: true),
                    goal = table.Column<string>(type: "character varying(80)", maxLength: 80, nullable: true),
                    rest = table.Column<string[]>(type: "text[]", nullable: true),
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
                name: "part_orders",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    request_id = table.Column<Guid>(type: "uuid", nullable: false),
                    supplier_id = table.Column<Guid>(type: "uuid", nullable: false),
                    number = table.Column<string>(type: "character varying(64)", maxLength: 64, nullable: false),
                    grade = table.Column<string>(type: "character varying(24)", maxLength: 24, nullable: false),
                    quantity = table.Column<int>(type: "integer", nullable: false),
                    arrived = table.Column<int>(type: "integer", nullable: false),
                    landed_in_fact = table.Column<decimal>(
                        type: "numeric(12,2)",
                        precision: 12,
                        scale: 2,
                        nullable: true
                    ),
                    freight = table.Column<string>(type: "character varying(60)", maxLength: 60, nullable: false),
                    landed = table.Column<decimal>(type: "numeric(12,2)", precision: 12, scale: 2, nullable: false),
                    currency = table.Column<string>(type: "character varying(3)", maxLength: 3, nullable: false),
                    expected = table.Column<DateOnly>(type: "date", nullable: false),
                    acknowledged = table.Column<string>(type: "character varying(60)", maxLength: 60, nullable: true),
                    state = table.Column<string>(type: "character varying(24)", maxLength: 24, nullable: false),
                    repair_id = table.Column<Guid>(type: "uuid", nullable: true),
                    line_id = table.Column<Guid>(type: "uuid", nullable: true),
                    at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: false),
                    by_id = table.Column<Guid>(type: "uuid", nullable: false),
                    received_at = table.Column<DateTimeOffset>(type: "timestamp with time zone", nullable: true),
                    cancelled = table.Column<string>(type: "character varying(300)", maxLength: 300, nullable: true),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_part_orders", x => x.id);
                    table.CheckConstraint(
                        "ck_part_orders_quantity",
                        "quantity > 0 AND landed >= 0 AND arrived BETWEEN 0 AND quantity"
                    );
                    table.ForeignKey(
                        name: "fk_part_orders_repair_lines_line_id",
                        column: x => x.line_id,
                        principalTable: "repair_lines",
                        principalColumn: "id",
                        onDelete: ReferentialAction.SetNull
                    );
                    table.ForeignKey(
                        name: "fk_part_orders_repairs_repair_id",
                        column: x => x.repair_id,
                        principalTable: "repairs",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_part_orders_suppliers_supplier_id",
                        column: x => x.supplier_id,
                        principalTable: "suppliers",
                        principalColumn: "id",
                        onDelete: ReferentialAction.Restrict
                    );
                    table.ForeignKey(
                        name: "fk_part_orders_users_by_id",
                        column: x => x.by_id,
                        principalTable: "technicians",
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

            migrationBuilder.CreateIndex(
                name: "ix_battery_readings_item_id",
                table: "battery_readings",
                column: "item_id"
            );

            migrationBuilder.CreateIndex(
                name: "ix_battery_readings_unit_id_at",
                table: "battery_readings",
                columns: new[] { "unit_id", "at" }
            );

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
                name: "ix_bench_sessions_model_code_started_at",
                table: "bench_sessions",
                columns: new[] { "model_code", "started_at" }
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
                name: "ix_campaign_marks_campaign",
                table: "campaign_marks",
                column: "campaign"
            );

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

            migrationBuilder.CreateIndex(name: "ix_catalogue_numbers_kind", table: "catalogue_numbers", column: "kind");

            migrationBuilder
                .CreateIndex(name: "ix_catalogue_numbers_number_trigrams", table: "catalogue_numbers", column: "number")
                .Annotation("Npgsql:IndexMethod", "gist")
                .Annotation("Npgsql:IndexOperators", new[] { "gist_trgm_ops" });

            migrationBuilder.CreateIndex(
                name: "ix_catalogue_numbers_superseded_by_id",
                table: "catalogue_numbers",
                column: "superseded_by_id"
            );

            migrationBuilder.CreateIndex(name: "ix_done_requests_at", table: "done_requests", column: "at");

            migrationBuilder.CreateIndex(name: "ix_erasures_by_id", table: "erasures", column: "by_id");

            migrationBuilder.CreateIndex(
                name: "ix_erasures_repair_id_slot",
                table: "erasures",
                columns: new[] { "repair_id", "slot" },
                unique: true
            );

            migrationBuilder.CreateIndex(name: "ix_erasures_unit_id", table: "erasures", column: "unit_id");

            migrationBuilder.CreateIndex(name: "ix_fit_tallies_model_code", table: "fit_tallies", column: "model_code");

            migrationBuilder.CreateIndex(
                name: "ix_follow_ups_at",
                table: "follow_ups",
                column: "at",
                filter: "put_right_at IS NULL"
            );

            migrationBuilder.CreateIndex(name: "ix_follow_ups_by_id", table: "follow_ups", column: "by_id");

            migrationBuilder.CreateIndex(
                name: "ix_follow_ups_put_right_by_id",
                table: "follow_ups",
                column: "put_right_by_id"
            );

            migrationBuilder.CreateIndex(name: "ix_follow_ups_repair_id", table: "follow_ups", column: "repair_id");

            migrationBuilder.CreateIndex(name: "ix_follow_ups_unit_id", table: "follow_ups", column: "unit_id");

            migrationBuilder.CreateIndex(name: "ix_house_choices_by_id", table: "house_choices", column: "by_id");

            migrationBuilder.CreateIndex(
                name: "ix_items_bin_id_bin_kind_code",
                table: "items",
                columns: new[] { "bin_id", "bin_kind", "code" }
            );

            migrationBuilder.CreateIndex(name: "ix_items_code", table: "items", column: "code", unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_items_in_house",
                table: "items",
                columns: new[] { "number_id", "bin_kind", "bin_id" },
                filter: "bin_kind <> 'Outside'"
            );

            migrationBuilder.CreateIndex(
                name: "ix_items_number_id_unit_id",
                table: "items",
                columns: new[] { "number_id", "unit_id" }
            );

            migrationBuilder.CreateIndex(name: "ix_items_serial", table: "items", column: "serial");

            migrationBuilder.CreateIndex(
                name: "ix_items_unit_id_slot",
                table: "items",
                columns: new[] { "unit_id", "slot" },
                unique: true
            );

            migrationBuilder.CreateIndex(name: "ix_learned_resets_by_id", table: "learned_resets", column: "by_id");

            migrationBuilder.CreateIndex(
                name: "ix_loans_one_out_per_unit",
                table: "loans",
                column: "unit_id",
                unique: true,
                filter: "back_at IS NULL"
            );

            migrationBuilder.CreateIndex(name: "ix_loans_out_by_id", table: "loans", column: "out_by_id");

            migrationBuilder.CreateIndex(name: "ix_loans_repair_id", table: "loans", column: "repair_id");

            migrationBuilder.CreateIndex(name: "ix_loans_unit_id", table: "loans", column: "unit_id");

            migrationBuilder.CreateIndex(name: "ix_lots_bin_id", table: "lots", column: "bin_id");

            migrationBuilder.CreateIndex(
                name: "ix_lots_number_id_bin_id",
                table: "lots",
                columns: new[] { "number_id", "bin_id" },
                unique: true
            );

            migrationBuilder.CreateIndex(name: "ix_map_findings_by_id", table: "map_findings", column: "by_id");

            migrationBuilder.CreateIndex(
                name: "ix_map_findings_decided_by_id",
                table: "map_findings",
                column: "decided_by_id"
            );

            migrationBuilder.CreateIndex(
                name: "ix_map_findings_model_code_map_revision",
                table: "map_findings",
                columns: new[] { "model_code", "map_revision" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_map_findings_model_code_state",
                table: "map_findings",
                columns: new[] { "model_code", "state" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_map_findings_once",
                table: "map_findings",
                columns: new[] { "repair_id", "kind", "target" },
                unique: true
            );

            migrationBuilder.CreateIndex(name: "ix_movements_by_id", table: "movements", column: "by_id");

            migrationBuilder.CreateIndex(
                name: "ix_movements_from_bin_id_id",
                table: "movements",
                columns: new[] { "from_bin_id", "id" }
            );

            migrationBuilder.CreateIndex(name: "ix_movements_from_unit_id", table: "movements", column: "from_unit_id");

            migrationBuilder.CreateIndex(
                name: "ix_movements_item_id_id",
                table: "movements",
                columns: new[] { "item_id", "id" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_movements_lot_id_id",
                table: "movements",
                columns: new[] { "lot_id", "id" }
            );

            migrationBuilder.CreateIndex(name: "ix_movements_repair_id", table: "movements", column: "repair_id");

            migrationBuilder.CreateIndex(
                name: "ix_movements_rights_id",
                table: "movements",
                column: "rights_id",
                unique: true
            );

            migrationBuilder.CreateIndex(
                name: "ix_movements_to_bin_id_id",
                table: "movements",
                columns: new[] { "to_bin_id", "id" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_movements_to_unit_id_to_slot",
                table: "movements",
                columns: new[] { "to_unit_id", "to_slot" }
            );

            migrationBuilder.CreateIndex(name: "ix_part_orders_by_id", table: "part_orders", column: "by_id");

            migrationBuilder.CreateIndex(name: "ix_part_orders_line_id", table: "part_orders", column: "line_id");

            migrationBuilder.CreateIndex(name: "ix_part_orders_repair_id", table: "part_orders", column: "repair_id");

            migrationBuilder.CreateIndex(
                name: "ix_part_orders_request_id",
                table: "part_orders",
                column: "request_id",
                unique: true
            );

            migrationBuilder.CreateIndex(
                name: "ix_part_orders_state_number",
                table: "part_orders",
                columns: new[] { "state", "number" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_part_orders_supplier_id",
                table: "part_orders",
                column: "supplier_id"
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

            migrationBuilder.CreateIndex(name: "ix_repair_photos_by_id", table: "repair_photos", column: "by_id");

            migrationBuilder.CreateIndex(
                name: "ix_repair_photos_repair_id_at",
                table: "repair_photos",
                columns: new[] { "repair_id", "at" }
            );

            migrationBuilder.CreateIndex(name: "ix_repairs_closed_at", table: "repairs", column: "closed_at");

            migrationBuilder.CreateIndex(name: "ix_repairs_closed_by_id", table: "repairs", column: "closed_by_id");

            migrationBuilder.CreateIndex(
                name: "ix_repairs_fault_id",
                table: "repairs",
                column: "fault_id",
                filter: "fault_id IS NOT NULL AND state = 'Closed'"
            );

            migrationBuilder.CreateIndex(name: "ix_repairs_number", table: "repairs", column: "number", unique: true);

            migrationBuilder.CreateIndex(
                name: "ix_repairs_one_open_per_unit",
                table: "repairs",
                column: "unit_id",
                unique: true,
                filter: "state IN ('Open', 'OnBench', 'Stopped')"
            );

            migrationBuilder.CreateIndex(name: "ix_repairs_opened_by_id", table: "repairs", column: "opened_by_id");

            migrationBuilder.CreateIndex(name: "ix_repairs_state", table: "repairs", column: "state");

            migrationBuilder.CreateIndex(
                name: "ix_repairs_unit_id_number",
                table: "repairs",
                columns: new[] { "unit_id", "number" }
            );

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
                name: "ix_stocktake_items_item_id",
                table: "stocktake_items",
                column: "item_id"
            );

            migrationBuilder.CreateIndex(name: "ix_stocktake_lots_lot_id", table: "stocktake_lots", column: "lot_id");

            migrationBuilder.CreateIndex(name: "ix_stocktakes_by_id", table: "stocktakes", column: "by_id");

            migrationBuilder.CreateIndex(
                name: "ix_stocktakes_one_open_per_bin",
                table: "stocktakes",
                column: "bin_id",
                unique: true,
                filter: "ended_at IS NULL"
            );

            migrationBuilder.CreateIndex(
                name: "ix_stored_offers_canonical",
                table: "stored_offers",
                column: "canonical"
            );

            migrationBuilder.CreateIndex(name: "ix_suppliers_name", table: "suppliers", column: "name", unique: true);

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

            migrationBuilder.CreateIndex(name: "ix_triage_steps_by_id", table: "triage_steps", column: "by_id");

            migrationBuilder.CreateIndex(name: "ix_triage_steps_repair_id", table: "triage_steps", column: "repair_id");

            migrationBuilder.CreateIndex(
                name: "ix_triage_steps_request_id",
                table: "triage_steps",
                column: "request_id",
                unique: true
            );

            migrationBuilder.CreateIndex(name: "ix_unit_events_by_id", table: "unit_events", column: "by_id");

            migrationBuilder.CreateIndex(name: "ix_unit_events_repair_id", table: "unit_events", column: "repair_id");

            migrationBuilder.CreateIndex(
                name: "ix_unit_events_unit_id_id",
                table: "unit_events",
                columns: new[] { "unit_id", "id" }
            );

            migrationBuilder.CreateIndex(name: "ix_unit_looks_by_id", table: "unit_looks", column: "by_id");

            migrationBuilder.CreateIndex(
                name: "ix_unit_questions_open",
                table: "unit_questions",
                columns: new[] { "unit_id", "text" },
                unique: true,
                filter: "decided_at IS NULL"
            );

            migrationBuilder.CreateIndex(
                name: "ix_units_bought_on_tag",
                table: "units",
                columns: new[] { "bought_on", "tag" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_units_loan_pool",
                table: "units",
                column: "tag",
                filter: "in_loan_pool"
            );

            migrationBuilder.CreateIndex(
                name: "ix_units_model_code_tag",
                table: "units",
                columns: new[] { "model_code", "tag" }
            );

            migrationBuilder
                .CreateIndex(name: "ix_units_search_trigrams", table: "units", column: "search_text")
                .Annotation("Npgsql:IndexMethod", "gin")
                .Annotation("Npgsql:IndexOperators", new[] { "gin_trgm_ops" });

            migrationBuilder.CreateIndex(name: "ix_units_serial", table: "units", column: "serial", unique: true);

            migrationBuilder.CreateIndex(name: "ix_units_site_tag", table: "units", columns: new[] { "site", "tag" });

            migrationBuilder.CreateIndex(name: "ix_units_state_tag", table: "units", columns: new[] { "state", "tag" });

            migrationBuilder.CreateIndex(name: "ix_units_tag", table: "units", column: "tag", unique: true);

            migrationBuilder.CreateIndex(name: "ix_waivers_by_id", table: "waivers", column: "by_id");

            migrationBuilder.CreateIndex(
                name: "ix_waivers_repair_id_slot_number_rule",
                table: "waivers",
                columns: new[] { "repair_id", "slot", "number", "rule" },
                unique: true
            );

            migrationBuilder.Sql(BookScript.Text);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(name: "api_tokens");

            migrationBuilder.DropTable(name: "battery_readings");

            migrationBuilder.DropTable(name: "bench_entries");

            migrationBuilder.DropTable(name: "campaign_marks");

            migrationBuilder.DropTable(name: "carrier_calendars");

            migrationBuilder.DropTable(name: "catalogue_fits");

            migrationBuilder.DropTable(name: "data_protection_keys");

            migrationBuilder.DropTable(name: "done_requests");

            migrationBuilder.DropTable(name: "erasures");

            migrationBuilder.DropTable(name: "fit_tallies");

            migrationBuilder.DropTable(name: "follow_ups");

            migrationBuilder.DropTable(name: "house_choices");

            migrationBuilder.DropTable(name: "house_figures");

            migrationBuilder.DropTable(name: "learned_resets");

            migrationBuilder.DropTable(name: "loans");

            migrationBuilder.DropTable(name: "map_findings");

            migrationBuilder.DropTable(name: "movements");

            migrationBuilder.DropTable(name: "part_orders");

            migrationBuilder.DropTable(name: "repair_photos");

            migrationBuilder.DropTable(name: "reservations");

            migrationBuilder.DropTable(name: "role_claims");

            migrationBuilder.DropTable(name: "stocktake_items");

            migrationBuilder.DropTable(name: "stocktake_lots");

            migrationBuilder.DropTable(name: "stored_offers");

            migrationBuilder.DropTable(name: "technician_claims");

            migrationBuilder.DropTable(name: "technician_logins");

            migrationBuilder.DropTable(name: "technician_roles");

            migrationBuilder.DropTable(name: "technician_tokens");

            migrationBuilder.DropTable(name: "triage_steps");

            migrationBuilder.DropTable(name: "unit_events");

            migrationBuilder.DropTable(name: "unit_looks");

            migrationBuilder.DropTable(name: "unit_questions");

            migrationBuilder.DropTable(name: "waivers");

            migrationBuilder.DropTable(name: "bench_sessions");

            migrationBuilder.DropTable(name: "repair_lines");

            migrationBuilder.DropTable(name: "lots");

            migrationBuilder.DropTable(name: "stocktakes");

            migrationBuilder.DropTable(name: "suppliers");

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
