using System;
using System.Collections.Generic;
using Microsoft.EntityFrameworkCore.Migrations;
using Npgsql.EntityFrameworkCore.PostgreSQL.Metadata;

#nullable disable

namespace Zenrik.Workshop.Migrations
{
    /// <inheritdoc />
    public partial class Counter : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropIndex(name: "ix_units_model_code", table: "units");

            migrationBuilder.DropIndex(name: "ix_repairs_one_open_per_unit", table: "repairs");

            migrationBuilder.AddColumn<string>(
                name: "state",
                table: "units",
                type: "character varying(24)",
                maxLength: 24,
                nullable: false,
                defaultValue: "InUse"
            );

            migrationBuilder.AddColumn<List<string>>(
                name: "circumstances",
                table: "repairs",
                type: "text[]",
                nullable: false,
                defaultValueSql: "'{}'"
            );

            migrationBuilder.AddColumn<string>(
                name: "decided",
                table: "repairs",
                type: "character varying(400)",
                maxLength: 400,
                nullable: true
            );

            migrationBuilder.AddColumn<string>(
                name: "end",
                table: "repairs",
                type: "character varying(24)",
                maxLength: 24,
                nullable: true
            );

            migrationBuilder.AddColumn<string>(
                name: "fault_id",
                table: "repairs",
                type: "character varying(40)",
                maxLength: 40,
                nullable: true
            );

            migrationBuilder.AddColumn<string>(
                name: "priority",
                table: "repairs",
                type: "character varying(24)",
                maxLength: 24,
                nullable: false,
                defaultValue: "Normal"
            );

            migrationBuilder.AddColumn<DateOnly>(name: "since", table: "repairs", type: "date", nullable: true);

            migrationBuilder.AddColumn<List<string>>(
                name: "symptoms",
                table: "repairs",
                type: "text[]",
                nullable: false,
                defaultValueSql: "'{}'"
            );

            migrationBuilder.AddColumn<string>(
                name: "triage_end",
                table: "repairs",
                type: "character varying(24)",
                maxLength: 24,
                nullable: true
            );

            migrationBuilder.AddColumn<DateTimeOffset>(
                name: "triage_ended_at",
                table: "repairs",
                type: "timestamp with time zone",
                nullable: true
            );

            migrationBuilder.AddColumn<string>(
                name: "class",
                table: "models",
                type: "character varying(24)",
                maxLength: 24,
                nullable: false,
                defaultValue: "Laptop"
            );

            migrationBuilder.AddColumn<int>(
                name: "life_months",
                table: "models",
                type: "integer",
                nullable: false,
                defaultValue: 60
            );

            migrationBuilder.AddColumn<decimal>(
                name: "new_price",
                table: "models",
                type: "numeric",
                nullable: false,
                defaultValue: 0m
            );

            migrationBuilder.AddColumn<DateOnly>(name: "support_ends", table: "models", type: "date", nullable: true);

            migrationBuilder.AddColumn<string>(
                name: "kind",
                table: "catalogue_numbers",
                type: "character varying(24)",
                maxLength: 24,
                nullable: false,
                defaultValue: "Other"
            );

            migrationBuilder.AddColumn<string>(
                name: "specification",
                table: "catalogue_numbers",
                type: "jsonb",
                nullable: true
            );

            migrationBuilder.AddColumn<Guid>(
                name: "superseded_by_id",
                table: "catalogue_numbers",
                type: "uuid",
                nullable: true
            );

            migrationBuilder.AddColumn<decimal>(
                name: "weight_kg",
                table: "catalogue_numbers",
                type: "numeric",
                nullable: true
            );

            // What class a model is of stands in its map.
            migrationBuilder.Sql(
                """
                UPDATE models m SET class = initcap(r.json::jsonb -> 'model' ->> 'class')
                FROM service_map_revisions r WHERE r.model_code = m.code
                """
            );
            migrationBuilder.CreateTable(
                name: "erasures",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    unit_id = table.Column<Guid>(type: "uuid", nullable: false),
                    repair_id = table.Column<Guid>(type: "uuid", nullable: false),
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
                name: "repair_photos",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    repair_id = table.Column<Guid>(type: "uuid", nullable: false),
                    jpeg = table.Column<byte[]>(type: "bytea", nullable: false),
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
                name: "suppliers",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    name = table.Column<string>(type: "character varying(80)", maxLength: 80, nullable: false),
                    address = table.Column<string>(type: "character varying(200)", maxLength: 200, nullable: false),
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_suppliers", x => x.id);
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
                name: "part_orders",
                columns: table => new
                {
                    id = table.Column<Guid>(type: "uuid", nullable: false),
                    request_id = table.Column<Guid>(type: "uuid", nullable: false),
                    supplier_id = table.Column<Guid>(type: "uuid", nullable: false),
                    number = table.Column<string>(type: "character varying(64)", maxLength: 64, nullable: false),
                    grade = table.Column<string>(type: "character varying(24)", maxLength: 24, nullable: false),
                    quantity = table.Column<int>(type: "integer", nullable: false),
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
                },
                constraints: table =>
                {
                    table.PrimaryKey("pk_part_orders", x => x.id);
                    table.CheckConstraint("ck_part_orders_quantity", "quantity > 0 AND landed >= 0");
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

            migrationBuilder.CreateIndex(
                name: "ix_units_model_code_state",
                table: "units",
                columns: new[] { "model_code", "state" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_repairs_fault_id",
                table: "repairs",
                column: "fault_id",
                filter: "fault_id IS NOT NULL AND state = 'Closed'"
            );

            migrationBuilder.CreateIndex(
                name: "ix_repairs_one_open_per_unit",
                table: "repairs",
                column: "unit_id",
                unique: true,
                filter: "state IN ('Open', 'OnBench', 'Stopped')"
            );

            migrationBuilder.CreateIndex(name: "ix_catalogue_numbers_kind", table: "catalogue_numbers", column: "kind");

            migrationBuilder.CreateIndex(
                name: "ix_catalogue_numbers_superseded_by_id",
                table: "catalogue_numbers",
                column: "superseded_by_id"
            );

            migrationBuilder.CreateIndex(name: "ix_erasures_by_id", table: "erasures", column: "by_id");

            migrationBuilder.CreateIndex(
                name: "ix_erasures_repair_id_slot",
                table: "erasures",
                columns: new[] { "repair_id", "slot" },
                unique: true
            );

            migrationBuilder.CreateIndex(name: "ix_erasures_unit_id", table: "erasures", column: "unit_id");

            migrationBuilder.CreateIndex(name: "ix_learned_resets_by_id", table: "learned_resets", column: "by_id");

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

            migrationBuilder.CreateIndex(name: "ix_repair_photos_by_id", table: "repair_photos", column: "by_id");

            migrationBuilder.CreateIndex(
                name: "ix_repair_photos_repair_id_at",
                table: "repair_photos",
                columns: new[] { "repair_id", "at" }
            );

            migrationBuilder.CreateIndex(
                name: "ix_stored_offers_canonical",
                table: "stored_offers",
                column: "canonical"
            );

            migrationBuilder.CreateIndex(name: "ix_suppliers_name", table: "suppliers", column: "name", unique: true);

            migrationBuilder.CreateIndex(name: "ix_triage_steps_by_id", table: "triage_steps", column: "by_id");

            migrationBuilder.CreateIndex(name: "ix_triage_steps_repair_id", table: "triage_steps", column: "repair_id");

            migrationBuilder.CreateIndex(
                name: "ix_triage_steps_request_id",
                table: "triage_steps",
                column: "request_id",
                unique: true
            );

            migrationBuilder.CreateIndex(name: "ix_unit_looks_by_id", table: "unit_looks", column: "by_id");

            migrationBuilder.CreateIndex(name: "ix_waivers_by_id", table: "waivers", column: "by_id");

            migrationBuilder.CreateIndex(
                name: "ix_waivers_repair_id_slot_number_rule",
                table: "waivers",
                columns: new[] { "repair_id", "slot", "number", "rule" },
                unique: true
            );

            migrationBuilder.AddForeignKey(
                name: "fk_catalogue_numbers_catalogue_numbers_superseded_by_id",
                table: "catalogue_numbers",
                column: "superseded_by_id",
                principalTable: "catalogue_numbers",
                principalColumn: "id",
                onDelete: ReferentialAction.Restrict
            );
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropForeignKey(
                name: "fk_catalogue_numbers_catalogue_numbers_superseded_by_id",
                table: "catalogue_numbers"
            );

            migrationBuilder.DropTable(name: "erasures");

            migrationBuilder.DropTable(name: "house_figures");

            migrationBuilder.DropTable(name: "learned_resets");

            migrationBuilder.DropTable(name: "part_orders");

            migrationBuilder.DropTable(name: "repair_photos");

            migrationBuilder.DropTable(name: "stored_offers");

            migrationBuilder.DropTable(name: "triage_steps");

            migrationBuilder.DropTable(name: "unit_looks");

            migrationBuilder.DropTable(name: "waivers");

            migrationBuilder.DropTable(name: "suppliers");

            migrationBuilder.DropIndex(name: "ix_units_model_code_state", table: "units");

            migrationBuilder.DropIndex(name: "ix_repairs_fault_id", table: "repairs");

            migrationBuilder.DropIndex(name: "ix_repairs_one_open_per_unit", table: "repairs");

            migrationBuilder.DropIndex(name: "ix_catalogue_numbers_kind", table: "catalogue_numbers");

            migrationBuilder.DropIndex(name: "ix_catalogue_numbers_superseded_by_id", table: "catalogue_numbers");

            migrationBuilder.DropColumn(name: "state", table: "units");

            migrationBuilder.DropColumn(name: "circumstances", table: "repairs");

            migrationBuilder.DropColumn(name: "decided", table: "repairs");

            migrationBuilder.DropColumn(name: "end", table: "repairs");

            migrationBuilder.DropColumn(name: "fault_id", table: "repairs");

            migrationBuilder.DropColumn(name: "priority", table: "repairs");

            migrationBuilder.DropColumn(name: "since", table: "repairs");

            migrationBuilder.DropColumn(name: "symptoms", table: "repairs");

            migrationBuilder.DropColumn(name: "triage_end", table: "repairs");

            migrationBuilder.DropColumn(name: "triage_ended_at", table: "repairs");

            migrationBuilder.DropColumn(name: "class", table: "models");

            migrationBuilder.DropColumn(name: "life_months", table: "models");

            migrationBuilder.DropColumn(name: "new_price", table: "models");

            migrationBuilder.DropColumn(name: "support_ends", table: "models");

            migrationBuilder.DropColumn(name: "kind", table: "catalogue_numbers");

            migrationBuilder.DropColumn(name: "specification", table: "catalogue_numbers");

            migrationBuilder.DropColumn(name: "superseded_by_id", table: "catalogue_numbers");

            migrationBuilder.DropColumn(name: "weight_kg", table: "catalogue_numbers");

            migrationBuilder.CreateIndex(name: "ix_units_model_code", table: "units", column: "model_code");

            migrationBuilder.CreateIndex(
                name: "ix_repairs_one_open_per_unit",
                table: "repairs",
                column: "unit_id",
                unique: true,
                filter: "state IN ('Open', 'OnBench')"
            );
        }
    }
}
