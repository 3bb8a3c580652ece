<script setup lang="ts">
import { ExclamationTriangleIcon } from '@heroicons/vue/20/solid'
import type { SiteView } from '~~/shared/sites/replies'

const props = defineProps<{ site: SiteView; disabled: boolean }>()
const emit = defineEmits<{ changed: [site: SiteView] }>()
const api = useApi()
const notices = useNoticesStore()
const draft = reactive({
  name: props.site.name,
  timeZone: props.site.timeZone,
  currency: props.site.currency,
  largestAmount: String(props.site.largestAmount),
  asksConsent: props.site.asksConsent,
  respectsDoNotTrack: props.site.respectsDoNotTrack,
  allowsScripts: props.site.allowsScripts,
  retentionDays: String(props.site.retentionDays),
  servedDays: String(props.site.servedDays),
  ownPath: props.site.ownPath ?? '',
  longestWait: String(props.site.longestWait),
})
const rates = ref(props.site.rates.map((each) => ({ ...each, rate: String(each.rate) })))
const parameters = ref(props.site.parameters.join(', '))
const attributes = ref(props.site.attributes.join(', '))
const eventDetails = ref(props.site.eventDetails.join(', '))
const adParameters = reactive({ ...props.site.adParameters })
const handingOn = reactive({ ...(props.site.handingOn ?? { list: '', call: '', event: false }) })
const isHandedOn = computed(() => handingOn.list.trim() !== '' || handingOn.call.trim() !== '' || handingOn.event)
const hosts = ref(props.site.hosts.join(', '))
const ownNetworks = ref(props.site.ownNetworks.join(', '))
const privateHosts = ref(props.site.privateHosts.join(', '))
const siteHost = computed(() => new URL(props.site.address).host)
const { errors, isSaving, save } = useSaving()
const AD_LABELS = { campaign: 'Campaign', group: 'Group', keyword: 'Keyword' } as const
const zones = Intl.supportedValuesOf('timeZone').concat('UTC')
const currencies = Intl.supportedValuesOf('currency')

const listed = (text: string) => text.split(/[\s,]+/).filter(Boolean)
/** The message of a list as a whole, or of the first of its items that is wrong. */
const errorOfList = (name: string) =>
  errors.value[name] ?? Object.entries(errors.value).find(([key]) => key.startsWith(`${name}[`))?.[1]

const apply = () =>
  save(async () => {
    const body = {
      ...draft,
      rates: rates.value,
      parameters: listed(parameters.value),
      attributes: listed(attributes.value),
      eventDetails: listed(eventDetails.value),
      adParameters,
      handingOn: isHandedOn.value ? handingOn : null,
      hosts: listed(hosts.value),
      ownNetworks: listed(ownNetworks.value),
      privateHosts: listed(privateHosts.value),
    }
    emit('changed', await api('updateSite', { site: props.site.id, body }))
    notices.show('Saved.')
  })
</script>

<template>
  <section aria-labelledby="settings">
    <h2 id="settings" class="mb-2">Settings</h2>
    <form class="flex max-w-2xl flex-col gap-7" novalidate @submit.prevent="apply">
      <fieldset class="grid gap-4 sm:grid-cols-2" :disabled="disabled">
        <TextField v-model="draft.name" label="Name" :error="errors.name" />
        <LabeledField
          v-slot="{ id }"
          label="Reporting time zone"
          hint="Days in reports begin at midnight there."
          :error="errors.timeZone"
        >
          <select :id="id" v-model="draft.timeZone" class="field">
            <option v-for="zone in zones" :key="zone">{{ zone }}</option>
          </select>
        </LabeledField>
        <TextField
          v-model="hosts"
          class="sm:col-span-2"
          label="Other hosts with pages of the site"
          :hint="`Separated by commas. ${siteHost} and its subdomains belong to it anyway.`"
          placeholder="book.example.test"
          :error="errorOfList('hosts')"
        />
      </fieldset>

      <fieldset class="flex flex-col gap-4" :disabled="disabled">
        <legend class="mb-2 font-semibold">Amounts</legend>
        <div class="grid gap-4 sm:grid-cols-2">
          <LabeledField v-slot="{ id }" label="Currency" hint="All amounts are shown in it." :error="errors.currency">
            <select :id="id" v-model="draft.currency" class="field">
              <option v-for="each in currencies" :key="each">{{ each }}</option>
            </select>
          </LabeledField>
          <TextField
            v-model="draft.largestAmount"
            label="Largest amount"
            hint="A larger one is refused as a mistake."
            numeric
            :unit="draft.currency"
            :error="errors.largestAmount"
          />
        </div>
        <RateRows v-model="rates" :currency="draft.currency" :errors="errors" />
      </fieldset>

      <fieldset class="flex flex-col gap-4" :disabled="disabled">
        <legend class="mb-2 font-semibold">What is kept</legend>
        <TextField
          v-model="parameters"
          label="Query parameters to keep"
          hint="Separated by commas. Those of campaigns and of page rules are kept anyway; everything else in a query is dropped."
          placeholder="ref, category"
          :error="errorOfList('parameters')"
        />
        <TextField
          v-model="attributes"
          label="Attributes to keep"
          hint="Separated by commas. What pages say of their visitors, such as plan; conditions can ask for any of it, reports only for what is kept. Nothing that names a person."
          placeholder="plan, seats"
          :error="errorOfList('attributes')"
        />
        <TextField
          v-model="eventDetails"
          label="Details of events to keep"
          hint="Separated by commas. What pages say of an event, such as vehicle; metrics can count only the events that say it. Nothing that names a person."
          placeholder="vehicle, travelers"
          :error="errorOfList('eventDetails')"
        />
        <div class="grid gap-4 sm:grid-cols-2">
          <TextField
            v-model="draft.servedDays"
            label="Remind of served changes after"
            unit="days"
            hint="Today names them, to be built into the site."
            numeric
            :error="errors.servedDays"
          />
          <TextField
            v-model="draft.retentionDays"
            label="Raw events are kept for"
            hint="Sums stay."
            numeric
            unit="days"
            :error="errors.retentionDays"
          />
        </div>
        <TextField
          v-model="ownNetworks"
          label="The team’s own networks"
          hint="Separated by commas. Their visitors are marked, and an experiment can leave them out. The addresses of visitors are not stored."
          placeholder="203.0.113.0/24"
          :error="errorOfList('ownNetworks')"
        />
        <label class="flex items-start gap-2">
          <input v-model="draft.asksConsent" type="checkbox" class="mt-1 accent-accent" />
          <span
            >The site asks visitors for consent first
            <span class="block text-sm text-ink-soft"
              >Nothing is stored, sent or changed before the page calls
              <code class="font-mono text-xs">(window.vetch ||= []).push({ consent: true })</code>. Visitors whose
              browser sends Global Privacy Control are never counted.</span
            ></span
          >
        </label>
        <label class="flex items-start gap-2">
          <input v-model="draft.respectsDoNotTrack" type="checkbox" class="mt-1 accent-accent" />
          <span
            >Respect “do not track”
            <span class="block text-sm text-ink-soft"
              >Visitors whose browser sends it see the original. Nothing is stored about them.</span
            ></span
          >
        </label>
        <label class="flex items-start gap-2">
          <input v-model="draft.allowsScripts" type="checkbox" class="mt-1 accent-accent" />
          <span
            >Variants may bring scripts of their own
            <span class="block text-sm text-ink-soft"
              >If off, no script can be added, and no experiment with one starts.</span
            ></span
          >
        </label>
      </fieldset>

      <fieldset class="grid gap-4 sm:grid-cols-3" :disabled="disabled">
        <legend class="mb-2 font-semibold">Ads</legend>
        <TextField
          v-for="(label, name) in AD_LABELS"
          :key="name"
          v-model="adParameters[name]"
          :label="label"
          :placeholder="`ad_${name}`"
          :error="errors[`adParameters.${name}`]"
        />
        <p class="text-sm text-ink-soft sm:col-span-3">
          The query parameters in which links of ads name them. Conditions on visitors can ask for their values.
        </p>
      </fieldset>

      <fieldset class="grid gap-4 sm:grid-cols-2" :disabled="disabled">
        <legend class="mb-2 font-semibold">Telling the page’s own tools which variants are shown</legend>
        <TextField
          v-model="handingOn.list"
          label="List on the window"
          hint="Gets an entry for each variant that is shown."
          placeholder="pageData"
          :error="errors['handingOn.list']"
        />
        <TextField
          v-model="handingOn.call"
          label="Function on the window"
          hint="Is called with the same."
          placeholder="onVariant"
          :error="errors['handingOn.call']"
        />
        <label class="flex items-start gap-2 sm:col-span-2">
          <input v-model="handingOn.event" type="checkbox" class="mt-1 accent-accent" />
          <span
            >An event of the document, <code class="font-mono text-xs">vetch:shown</code>
            <span class="block text-sm text-ink-soft"
              >The names of experiments and variants come with the script line then.</span
            ></span
          >
        </label>
      </fieldset>

      <fieldset :disabled="disabled">
        <legend class="mb-2 font-semibold">Showing pages</legend>
        <TextField
          v-model="draft.longestWait"
          class="max-w-xs"
          label="Longest wait, in milliseconds"
          hint="Then a page shows its original. Copy the script line again after a change."
          inputmode="numeric"
          :error="errors.longestWait"
        />
      </fieldset>

      <fieldset class="flex flex-col gap-2" :disabled="disabled">
        <legend class="mb-2 font-semibold">Private networks</legend>
        <TextField
          v-model="privateHosts"
          label="Networks and hosts that Vetch may open"
          hint="Separated by commas. For pictures, checks and redirects of pages that only your network can open."
          placeholder="10.20.0.0/16, staging.example.test"
          :error="errorOfList('privateHosts')"
        />
        <p v-if="privateHosts.trim()" class="flex max-w-[72ch] gap-2 text-sm">
          <ExclamationTriangleIcon class="mt-0.5 size-4 shrink-0 text-rust" aria-hidden="true" />
          Everybody who may edit this site can then see what these hosts answer. Name no more than you need.
        </p>
      </fieldset>

      <fieldset class="flex flex-col gap-2" :disabled="disabled">
        <legend class="mb-2 font-semibold">First-party path</legend>
        <TextField
          v-model="draft.ownPath"
          class="max-w-xs"
          label="Path of the site that hands on to Vetch"
          hint="Leave it empty without one."
          placeholder="/vetch"
          :error="errors.ownPath"
        />
        <OwnPathNote v-if="draft.ownPath" :path="draft.ownPath" />
        <p v-else class="max-w-[72ch] text-sm text-ink-soft">
          Some browsers forget cookies that scripts write after a week, and take a returning visitor for a new one. If a
          path of the site forwards to Vetch, the site’s own server sets the cookie, and it stays.
        </p>
      </fieldset>
      <div v-if="!disabled">
        <BaseButton type="submit" :disabled="isSaving">{{ isSaving ? 'Saving …' : 'Save' }}</BaseButton>
      </div>
      <p v-else class="text-sm text-ink-soft">Only owners change these.</p>
    </form>
  </section>
</template>
