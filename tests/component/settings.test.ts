import { flushPromises, mount } from '@vue/test-utils'
import { describe, expect, it, vi } from 'vitest'
import { useOpenedSettings } from '../../app/composables/useOpenedSettings'

vi.stubGlobal('useNotice', () => ({ tell: vi.fn() }))

describe('settings', () => {
  it('take no input before they are read, which would replace it, and say where they cannot be read', async () => {
    let answer: (settings: object) => void = () => undefined
    let refuse: (error: Error) => void = () => undefined
    const loadSettings = () =>
      new Promise((resolve, reject) => {
        answer = resolve
        refuse = reject
      })
    vi.stubGlobal('useSettingsStore', () => ({ loadSettings }))
    const open = vi.fn()
    const view = mount({
      setup: () => useOpenedSettings({ open, save: vi.fn() }, 'all of it'),
      template: '<form :inert="!ready"><input /></form><p>{{ problem }}</p><button @click="load" />',
    })
    expect(view.get('form').attributes('inert')).toBeDefined()
    refuse(new Error('The server is not responding.'))
    await flushPromises()
    expect(view.get('p').text()).toBe('The server is not responding.')
    expect(view.get('form').attributes('inert')).toBeDefined()
    await view.get('button').trigger('click')
    answer({ version: 1 })
    await flushPromises()
    expect(open).toHaveBeenCalledWith({ version: 1 })
    expect(view.get('form').attributes('inert')).toBeUndefined()
    expect(view.get('p').text()).toBe('')
  })
})
