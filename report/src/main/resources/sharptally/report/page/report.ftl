<#function md text><#return text?replace("\\", "\\\\")?replace("|", "\\|")?replace("<", "&lt;")?replace("`", "\\`")?replace("*", "\\*")?replace("_", "\\_")?replace("[", "\\[")?replace("\n", " ")></#function>
# ${md(verdict)}

| | |
|---|---|
| source | ${md(source)} (${md(sourceProduct)}) |
| target | ${md(target)} (${md(targetProduct)}) |
| run | ${run}, begun ${started}, took ${seconds} |
<#if job?has_content>
| job file | ${md(job)} |
</#if>

<#if tables?has_content || lone?has_content>
| table | verdict | source rows | target rows | same | changed | missing | extra | repeated | method | time |
|---|---|--:|--:|--:|--:|--:|--:|--:|---|--:|
<#list tables as t>
<#if t.finished>
| ${md(t.name)} | <#if t.state == "same">${t.word}<#else>**${t.word}**</#if> | ${t.sourceRows} | ${t.targetRows} | ${t.same} | ${t.changed} | ${t.missing} | ${t.extra} | ${t.repeated} | ${t.method} | ${t.seconds} |
<#else>
| ${md(t.name)} | **not finished**: ${md(t.failure)} | | | | | | | | | |
</#if>
<#list t.missingColumns as c>
| ${md(t.name + "." + c)} | **missing column** | | | | | | | | | |
</#list>
<#list t.extraColumns as c>
| ${md(t.name + "." + c)} | **extra column** | | | | | | | | | |
</#list>
</#list>
<#list lone as t>
| ${md(t.name)} | **${t.word}** | ${t.sourceRows} | ${t.targetRows} | | | | | | | |
</#list>

</#if>
<#if columns?has_content>
| column | rows | of changed | likely cause | first key | source | target |
|---|--:|--:|---|---|---|---|
<#list columns as c>
| ${md(c.table + "." + c.column)} | ${c.rows} | ${c.share} | <#list c.causes as cause>${md(cause)}<#sep>; </#list> | ${md(c.key)} | ${md(c.source)} | ${md(c.target)} |
</#list>

</#if>
<#if common?has_content>
| rows | they have in common | of these rows | of the same rows |
|---|---|--:|--:|
<#list common as g><#list g.common as c>
| <#if c?index == 0>${md(g.title)}</#if> | <#if c?index != 0>or </#if>${md(c.words)} | ${c.differing} | ${c.same} |
</#list></#list>

</#if>
<#if totals?has_content>
```
${totals?replace("```", "'''")}
```

</#if>
<#if unmet?has_content>
| constraints not met | in the | rows | | such as | mended by |
|---|---|--:|---|---|---|
<#list unmet as u>
| ${md(u.table)} | ${u.side} | ${u.rows} | ${md(u.what)} | ${md(u.examples)} | ${md(u.mend)} |
</#list>

</#if>
<#if declared?has_content>
| table | declared | source | target | what it means |
|---|---|---|---|---|
<#list declared as d>
| ${md(d.table)} | ${md(d.what)} | ${md(d.source)} | ${md(d.target)} | ${md(d.meaning)} |
</#list>

</#if>
<#if accepted?has_content>
| accepted for now | rows | which | reason | owner | until | |
|---|--:|---|---|---|---|---|
<#list accepted as a>
| ${md(a.table)} | ${a.rows} | ${md(a.what)} | ${md(a.reason)} | ${md(a.owner)} | ${a.until} | <#if !a.used>**${a.state}**</#if> |
</#list>

</#if>
<#list rules as r>
- ${md(r)}
</#list>
<#list notes as n>
- ${md(n)}
</#list>
